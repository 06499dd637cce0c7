seen <- function(..., baseline = NULL, better = NULL) {
  r <- read_readings(write_lines(...), baseline = baseline, better = better)
  paste(r$arm, r$outcome, r$role)
}
fine <- function(arm) paste(arm, "ok counted")

test_that("how a pass ended is taken from wherever it stands in words, and told", {
  wanted <- c(fine("off"), fine("off"), fine("on"), "on crash counted")
  expect_identical(seen("arm,fps,note", "off,135,", "off,136,", "on,139,loud", "on,,crashed after 3 min"), wanted)
  expect_identical(seen("arm,fps,status", "off,135,ok", "off,136,ok", "on,139,done", "on,,crash"), wanted)
  expect_identical(seen("arm,run,fps", "off,1,135", "off,2,136", "on,1,139", "on,2 (crashed),"), wanted)
  expect_identical(seen(
    "arm,date,fps,note", "off,2026-03-14 10:00,135,", "off,2026-03-14 10:05,136,",
    "on,2026-03-14 10:10,139,", "on,2026-03-14 10:15,,absturz"
  ), wanted)
  expect_identical(seen("arm,fps,note", "off,135,", "on,139,", "on,,no start")[3], "on no_start counted")
  in_columns <- read_readings(write_lines("run,off,on", "1,135,139", "2,136,crash"),
    better = c(value = "higher"),
    baseline = "off"
  )
  expect_setequal(paste(in_columns$arm, in_columns$outcome), c("off ok", "on ok", "on crash"))
  in_passes <- read_readings(
    write_lines("arm,run 1,run 2", "off,135,136", "on,139,freeze"),
    better = c(value = "higher")
  )
  expect_setequal(paste(in_passes$arm, in_passes$outcome), c("off ok", "on ok", "on freeze"))
  always <- read_readings(write_lines("run,off,on", "1,135,crash", "2,136,crash"),
    better = c(value = "higher"),
    baseline = "off"
  )
  expect_setequal(paste(always$arm, always$outcome), c("off ok", "on crash"))
  both <- read_readings(write_lines("arm,run 1,run 2", "off,135,crash", "on,139,crash"), better = c(value = "higher"))
  expect_identical(as.integer(table(both$outcome)), c(2L, 2L))
  table <- write_lines("arm,fps,note", "off,135,", "off,136,", "on,139,", "on,140,", "on,,froze")
  expect_match(run_cli("weigh", table, "--baseline", "off")$stdout, "on froze in 1 of 3 passes")
})

test_that("what is said of one number of a pass holds for the pass, in a cell or beside it", {
  rows <- c("off,1,fps,135,", "off,1,low,98,", "on,2,fps,139,", "on,2,low,99,")
  r <- read_readings(write_lines(
    "arm,pass,metric,value,note", rows, "on,3,fps,,crashed", "on,3,low,,", "on,4,fps,139,excluded: update",
    "on,4,low,99,"
  ), better = c(low = "higher"))
  expect_identical(unique(r$outcome[r$pass == "3"]), "crash")
  expect_identical(unique(paste(r$role, r$reason)[r$pass == "4"]), "excluded excluded: update")
  both <- seen("arm,fps,note", "off,135,", "on,139,", "on,crash,", "on,,froze")
  expect_identical(both, c(fine("off"), fine("on"), "on crash counted", "on freeze counted"))
})

test_that("rows without a label are asked about, and may be passes of their own", {
  file <- write_lines("arm,run,fps,note", "off,1,135,", "on,,139,", "on,,140,", "on,,,crashed")
  expect_error(read_readings(file), "3 rows of 'run' without a number", class = "honestmargin_error_asked")
  r <- read_readings(file, answer = c(unnumbered = "pass"))
  expect_identical(paste(r$arm, r$outcome, r$role), c(fine("off"), fine("on"), fine("on"), "on crash counted"))
})

test_that("beside the passes of several arms nobody's end is guessed", {
  for (lines in list(
    c("run,off,on,note", "1,135,139,", "2,136,140,", "3,137,,crash"),
    c("run,off,on,status", "1,135,139,ok", "2,136,140,ok", "3,137,,crash"),
    c("run,off,on", "1,135,139", "2,136,140", "3 (crashed),137,")
  )) {
    r <- read_readings(write_lines(lines), better = c(value = "higher"), baseline = "off")
    expect_identical(unique(r$outcome), "ok")
    expect_match(findings(r)$message, "which hold a pass of each arm: .*crash", all = FALSE)
  }
  # where the one column of words is the arm, it is known
  preset <- seen("Preset,FPS,note", "Low,135,", "High,99,", "Low,136,", "High,,crashed", baseline = "Low")
  expect_identical(preset[4], "High crash counted")
})

test_that("rows that are marked as none do not count, and are weighed with and without", {
  wanted <- c(fine("off"), fine("off"), fine("on"), fine("on"), "on ok excluded")
  rows <- c("off,135,", "off,136,", "on,139,", "on,140,", "on,90,")
  expect_identical(seen("arm,fps,exclude", rows[1:4], "on,90,x"), wanted)
  expect_identical(seen("arm,fps,valid", paste0(rows[1:4], "yes"), "on,90,no"), wanted)
  expect_identical(seen("arm,fps,note", rows[1:4], "on,90,excluded: an update ran"), wanted)
  kept <- read_readings(write_lines("arm,fps,valid", paste0(rows[1:4], "yes")))
  expect_no_match(findings(kept)$message, "should not count")
  out <- read_readings(write_lines("arm,fps,valid", paste0(rows[1:4], "yes"), "on,90,no"))
  expect_identical(out$reason[5], "valid: no")
  r <- read_readings(write_lines("arm,run,fps", "off,1,135", "off,2,136", "on,1,139", "on,2 (invalid),90"))
  expect_identical(r$role, c("counted", "counted", "counted", "excluded"))
  expect_identical(r$reason[4], "2 (invalid)")
})

test_that("what denies an end, or speaks of other things, marks nothing", {
  rows <- c("off,135,", "on,139,")
  for (note in c("no crash", "without a freeze", "bad weather")) {
    expect_identical(seen("arm,fps,note", rows, paste0("on,140,", note)), fine(c("off", "on", "on")), info = note)
  }
  expect_identical(
    seen("arm,pass,fps", "good kit,good kit 1,135", "bad kit,bad kit 1,139"), fine(c("good kit", "bad kit"))
  )
  drops <- read_readings(write_lines("arm,discarded,fps", "off,3,135", "on,1,139"), better = c(discarded = "lower"))
  expect_setequal(drops$role, "counted")
  # beside a number that counts it is told
  r <- read_readings(write_lines("arm,fps,note", rows, "on,140,crashed when it was closed"))
  expect_identical(r$outcome, rep("ok", 3))
  expect_match(findings(r)$message, "speaks of a failure beside a number that counts", all = FALSE)
})

test_that("a row of an arm that holds nothing is told", {
  r <- read_readings(write_lines("arm,fps", "off,135", "on,139", "on,"))
  expect_match(findings(r)$message, "no number in 1 row of an arm: line 4", all = FALSE)
  ended <- read_readings(write_lines("arm,fps", "off,135", "on,139", "on,crash"))
  expect_no_match(findings(ended)$message, "no number in")
})

test_that("a blue screen in place of a number is a machine that went down", {
  r <- read_readings(write_lines("arm,fps", "off,100", "on,BSOD", "off,101", "on,106"))
  expect_identical(r$outcome, c("ok", "down", "ok", "ok"))
})

test_that("what people write in place of a number is how the pass ended", {
  for (end in list(
    c("black screen", "down"), c("no signal", "down"), c("rebooted", "down"), c("shut down", "down"), c("DNF", "crash"),
    c("failed", "crash"), c("error", "crash"), c("artefacts", "artefact"), c("timed out", "timeout")
  )) {
    r <- read_readings(write_lines("arm,fps", "off,100", "on,104", paste0("on,", end[1])))
    expect_identical(r$outcome[3], end[2], info = end[1])
    own <- read_readings(write_lines("arm,fps,outcome", "off,100,ok", "on,104,ok", paste0("on,,", end[1])))
    expect_identical(own$outcome[3], end[2], info = end[1])
  }
  out <- read_readings(write_lines("arm,fps", "off,100", "on,104", "on,excluded"))
  expect_identical(out$role[3], "excluded")
  # minutes and hours are how long a pass was tried
  exposed <- read_readings(write_lines("arm,fps,minutes", "off,100,1.5", "on,104,2"))
  expect_identical(exposed$seconds, c(90, 120))
})
