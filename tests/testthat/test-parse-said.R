put_frames <- function(names, folder = withr::local_tempdir(.local_envir = parent.frame())) {
  for (i in seq_along(names)) {
    frames <- simulate_frames(8, mean_ms = if (grepl("on", names[i])) 7.5 else 8, seed = i)
    writeLines(format(frames), file.path(folder, paste0(names[i], ".csv")))
  }
  folder
}
rows_of <- function(study) {
  p <- study$passes
  sort(paste(p$arm, p$workload, p$outcome, p$role))
}

test_that("a log that is called a crash is a failure of its arm, one called bad does not count", {
  good <- c("off_1", "off_2", "off_3", "on_1", "on_2", "on_3")
  wanted <- sort(c(
    rep("off main ok counted", 3), rep("on main ok counted", 3), "off main crash counted", "on main ok excluded"
  ))
  for (odd in list(
    c("off_4_crash", "on_4_bad"), c("off_crashed", "on_invalid"), c("off 4 (crash)", "on-4-discarded")
  )) {
    study <- read_logs(put_frames(c(good, odd)))
    expect_identical(rows_of(study), wanted)
    said <- findings(study)$message
    expect_match(said, paste0("taken from their names: .*", odd[2], ".csv \\(excluded\\)"), all = FALSE)
    failed <- subset(weigh(study), metric == "failed")
    expect_match(paste(failed$reason, collapse = " "), "1 of 4 passes of off failed|1 of 4", all = FALSE)
  }
  shell <- run_cli("weigh", put_frames(c(good, "off_4_crash")), "--worth", "2")
  expect_match(shell$stdout, "off crashed in 1 of 4 passes")
})

test_that("it belongs to its arm however the others are numbered", {
  arms_of <- function(...) {
    found <- honestmargin:::group_said(c(...), NULL, "high")
    paste(found$arm[found$said %in% c("crash", "excluded")], collapse = " ")
  }
  plain <- function(mark) c(outer(c("high", "higher"), 1:2, paste, sep = mark))
  expect_identical(arms_of(paste0(plain("_run"), ".csv"), "high_bad.csv"), "high")
  expect_identical(arms_of(paste0(plain("-r"), ".csv"), "higher-crash.csv", "high-bad.csv"), "higher high")
  expect_identical(arms_of(paste0(plain("/"), ".csv"), "high/crash.csv"), "high")
  expect_identical(arms_of("125_1.csv", "125_2.csv", "1250_1.csv", "1250_2.csv", "125_crash.csv"), "125")
})

test_that("a scene or an arm that is called so is none", {
  names <- c(outer(c("off", "on"), c("crash_1", "crash_2", "city_1", "city_2"), paste, sep = "_"))
  scenes <- read_logs(put_frames(names), baseline = "off")
  expect_setequal(scenes$passes$workload, c("crash", "city"))
  expect_true(all(scenes$passes$outcome == "ok"))
  arms <- read_logs(put_frames(c("bad_1", "bad_2", "good_1", "good_2")))
  expect_setequal(arms$passes$arm, c("bad", "good"))
})

test_that("a copy by its name belongs to the arm of its original, and counts once where it is one", {
  folder <- put_frames(c("off_1", "off_2", "off_3", "on_1", "on_2", "on_3"))
  file.copy(file.path(folder, "on_1.csv"), file.path(folder, c("on_1 - Copy.csv", "on_1 (1).csv")))
  study <- read_logs(folder)
  expect_identical(sort(table(study$passes$arm), decreasing = TRUE)[["on"]], 5L)
  fps <- study$readings[study$readings$metric == "fps_avg", ]
  expect_identical(sum(fps$arm == "on" & fps$role == "counted"), 3L)
  # as a system names what is saved under one name
  saved <- put_frames(c(outer(c("off", "on"), c("", " (1)", " (2)"), paste0)))
  expect_identical(rows_of(read_logs(saved)), rep(c("off main ok counted", "on main ok counted"), each = 3))
  expect_match(findings(study)$message, "on_1 - Copy.csv \\(the same name again, taken as pass", all = FALSE)
})

test_that("results of passes, a file each, are taken by their names alike", {
  folder <- withr::local_tempdir()
  put <- function(name, fps) writeLines(paste0("{\"fps\": ", fps, "}"), file.path(folder, paste0(name, ".json")))
  for (i in 1:3) for (arm in c("off", "on")) put(paste0(arm, "_", i), 135 + i + 5 * (arm == "on"))
  put("on_4_bad", 90)
  put("off_5_crash", 70)
  put("on_warmup", 80)
  r <- read_readings(list.files(folder, full.names = TRUE))
  expect_setequal(paste(r$arm, r$outcome, r$role)[r$value < 100], c("on ok excluded", "off crash counted"))
  expect_identical(nrow(r), 8L)
  expect_match(findings(r)$message, "left out, as a warm-up by its name: 1 file", all = FALSE)
})

test_that("what a program printed before it crashed need not hold its number", {
  folder <- withr::local_tempdir()
  put <- function(name, text) writeLines(text, file.path(folder, paste0(name, ".txt")))
  for (i in 1:3) for (arm in c("off", "on")) put(paste0(arm, "_", i), paste("Total:", 100 + i + 5 * (arm == "on")))
  put("on_4_crash", "segmentation fault")
  study <- read_logs(folder, score = c(score = "Total: ([0-9.]+)"))
  expect_identical(study$passes$outcome[study$passes$arm == "on"], c("ok", "ok", "ok", "crash"))
  put("on_5", "nothing")
  expect_error(read_logs(folder, score = c(score = "Total: ([0-9.]+)")), "finds no number")
})
