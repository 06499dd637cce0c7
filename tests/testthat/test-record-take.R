local_kits <- function(arms = c("kit A", "kit B"), env = parent.frame()) {
  local_plan(
    paste0("setting: {name: kit, baseline: \"", arms[1], "\"}"),
    "arms:", paste0("  - value: \"", arms, "\""), "blocks: 2", "order: mirrored", "warm_up: 1",
    "workloads: [{id: lap}]", "metrics: [{id: fps_avg, worth: 2}]",
    env = env
  )
}
put_log <- function(inbox, name, ms, at = NULL) {
  path <- file.path(inbox, name)
  dir.create(dirname(path), showWarnings = FALSE)
  writeLines(c("ms", simulate_frames(4, ms, seed = sum(utf8ToInt(name)))), path)
  if (!is.null(at)) Sys.setFileTime(path, as.POSIXct("2026-01-01 10:00:00", tz = "UTC") + at)
}
yes <- function(matched) TRUE

test_that("a log goes to the arm that its name speaks of, whatever its time", {
  folder <- local_kits()
  inbox <- withr::local_tempdir()
  # copied: one time for all, and B's came first
  for (i in 1:2) {
    for (kit in c("B", "A")) {
      put_log(
        inbox, sprintf("kit%s_run%d.csv", kit, i), if (kit == "A") 8 else 10, 0
      )
    }
  }
  matched <- take_logs(folder, inbox, confirm = yes)
  expect_identical(matched$arm, ifelse(grepl("A", matched$file), "kit A", "kit B"))
  expect_identical(unique(matched$by), "name")
  study <- read_study(folder)
  expect_identical(unique(study$passes$role), "counted")
  slow <- subset(study$readings, metric == "fps_avg" & arm == "kit B")$value
  expect_every(slow < 110)
  expect_identical(run_cli("take", folder, inbox, "--yes")$status, 0L)
  expect_identical(nrow(read_study(folder)$passes), 4L)
})

test_that("a number is not taken for a longer one, and two arms in one name for neither", {
  folder <- local_kits(c("125", "1250"))
  inbox <- withr::local_tempdir()
  put_log(inbox, "1250hz-1.csv", 8)
  put_log(inbox, "125hz-1.csv", 9)
  put_log(inbox, "125-to-1250.csv", 10)
  matched <- take_logs(folder, inbox)
  expect_identical(matched$arm[match(c("1250hz-1.csv", "125hz-1.csv"), matched$file)], c("1250", "125"))
  expect_match(matched$problem[matched$file == "125-to-1250.csv"], "more than one arm")
})

test_that("copied logs with one time and no names are not guessed, and a pipe is not waited for", {
  folder <- local_kits()
  inbox <- withr::local_tempdir()
  for (i in 1:3) put_log(inbox, paste0("log", i, ".csv"), 8, 0)
  expect_message_of(take_logs(folder, inbox), "honestmargin_error_needed", "written at the same moment")
  pipes <- withr::local_tempdir()
  skip_if(system2("mkfifo", shQuote(file.path(pipes, "p.csv"))) != 0, "no pipes here")
  expect_identical(nrow(take_logs(folder, pipes)), 0L)
})

test_that("a log that went to the wrong arm is moved, or taken back and taken again; the history shows both", {
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: kit, baseline: A, by_hand: swap}", "arms: [{value: A}, {value: B}]", "blocks: 2", "order: fixed",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads: [{id: lap, frames: log.csv}]"
  ), file.path(folder, "study.yml"))
  inbox <- withr::local_tempdir()
  log <- function(ms) {
    path <- file.path(inbox, paste0(ms, ".csv"))
    writeLines(c("frame_time_ms", rep(ms, 500)), path)
    path
  }
  add_pass(folder, "B", frames = read_frames(log(10)))
  arms <- function() read_study(folder)$passes[c("pass", "arm")]
  id <- arms()$pass
  moved <- run_cli("correct", folder, id, "--arm", "A", "--block", "2", "--reason", "wrong slot")
  expect_identical(moved$status, 0L)
  study <- read_study(folder)
  expect_identical(c(study$passes$arm, study$passes$block), c("A", "2"))
  expect_identical(unique(study$readings$arm), "A")
  expect_match(findings(study)$message, "corrected: arm: B -> A, block: 1 -> 2 \\(wrong slot\\)", all = FALSE)
  expect_identical(run_cli("correct", folder, id, "--arm", "C", "--reason", "x")$status, 3L)
  # taken to the wrong pass: taken back, and the same file is taken again
  unlink(list.files(inbox, full.names = TRUE))
  file.rename(log(20), file.path(inbox, "A_1.csv"))
  expect_match(run_cli("take", folder, inbox, "--yes")$stderr, "1 log stored")
  taken <- setdiff(arms()$pass, id)
  back <- run_cli("undo", folder, taken, "--reason", "it was kit B")
  expect_identical(back$status, 0L)
  expect_identical(arms()$pass, id)
  expect_error(undo_pass(folder, taken, "twice"), class = "honestmargin_error_input", "was taken back")
  expect_error(correct_place(folder, taken, "late", arm = "B"), class = "honestmargin_error_input", "was taken back")
  file.rename(file.path(inbox, "A_1.csv"), file.path(inbox, "B_1.csv"))
  expect_match(run_cli("take", folder, inbox, "--yes")$stderr, "1 log stored")
  expect_setequal(read_study(folder)$passes$arm, c("A", "B"))
  expect_match(run_cli("history", folder)$stdout, paste0("undo ", taken, ": taken back - it was kit B"))
  expect_match(findings(read_study(folder))$message, paste0("pass ", taken, ": taken back"), all = FALSE)
  # and once more, so that a file can come back any number of times
  last <- setdiff(arms()$pass, id)
  expect_identical(run_cli("undo", folder, last, "--reason", "again")$status, 0L)
  expect_match(run_cli("take", folder, inbox, "--yes")$stderr, "1 log stored")
})

test_that("the folder speaks only where a file says nothing, and a letter among digits names no arm", {
  match <- honestmargin:::match_files
  open <- data.frame(pass = c("p001", "p002"), arm = c("a", "b"), workload = "lap", role = "counted")
  place <- function(folder, file) {
    inbox <- file.path(withr::local_tempdir(.local_envir = parent.frame()), folder)
    dir.create(inbox)
    path <- file.path(inbox, file)
    writeLines(c("frame_time_ms", rep(10, 50)), path)
    match(path, list(read_frames(path)), open)$arm
  }
  expect_identical(place("file7a3", "b_1.csv"), "b")
  expect_identical(place("kit a", "b_1.csv"), "b")
  expect_identical(place("kit a", "run1.csv"), "a")
  expect_true(is.na(honestmargin:::named_in("x7a3", c("a", "b"))))
})

test_that("a log that is called a crash or a warm-up fills no pass that counts", {
  folder <- local_kits(c("kit A", "kit B"))
  inbox <- withr::local_tempdir()
  for (name in c("kitA_run1.csv", "kitA_run2_crash.csv", "kitA_warmup.csv", "kitB_warmup.csv", "kitB_run1.csv")) {
    put_log(inbox, name, 8 + length(list.files(inbox)) / 100)
  }
  matched <- take_logs(folder, inbox)
  matched <- matched[order(matched$file), ]
  warm <- which(grepl("warmup", matched$file) & !is.na(matched$pass))
  expect_identical(matched$pass[warm], "p001")
  expect_setequal(matched$file[!is.na(matched$pass)], c("kitA_run1.csv", "kitB_run1.csv", matched$file[warm]))
  crashed <- matched$file == "kitA_run2_crash.csv"
  expect_match(matched$problem[crashed], "its name says crash: honestmargin add --outcome")
})

test_that("what was measured here is not undone, only excluded", {
  folder <- local_plan(
    quick, "    command: echo score {arm}0", "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
  )
  run_study(folder, most = 2)
  refused <- run_cli("undo", folder, "p002", "--reason", "I do not like it")
  expect_identical(refused$status, 3L)
  expect_match(refused$stderr, "exclude")
  expect_true("p002" %in% read_study(folder)$passes$pass)
})

test_that("one log is one pass, whether it is added or taken, until that pass is undone", {
  folder <- local_kits(c("kit A", "kit B"))
  inbox <- withr::local_tempdir()
  for (name in c("kitA_run1.csv", "kitB_run1.csv")) put_log(inbox, name, 8)
  log <- file.path(inbox, "kitA_run1.csv")
  add <- function() run_cli("add", folder, "--arm", "kit A", "--frames", log)
  expect_identical(add()$status, 0L)
  again <- add()
  expect_identical(again$status, 3L)
  expect_match(again$stderr, "is stored already, as pass (p[0-9]+)\n.*undo .* p[0-9]+")
  expect_identical(take_logs(folder, inbox, confirm = yes)$file, "kitB_run1.csv")
  expect_identical(nrow(read_study(folder)$passes), 2L)
  pass <- sub("(?s).*as pass (p[0-9]+).*", "\\1", again$stderr, perl = TRUE)
  expect_identical(run_cli("undo", folder, pass, "--reason", "was another kit")$status, 0L)
  expect_identical(add()$status, 0L)
})

test_that("logs of a search go to the values that their names speak of, and what speaks of none is left", {
  folder <- local_plan(
    "setting: {name: offset, unit: MHz, by_hand: set it}", "search: {from: 0, to: 300, step: 100, repeat: 1}",
    "blocks: 0", "workloads: [{id: pull, by_hand: one lap}]", "metrics: [{id: fps_avg, worth: 2}]"
  )
  # a made-up name that holds a number of its own says nothing
  inbox <- file.path(withr::local_tempdir(), "file2b5a300c")
  for (name in c("pull_0.csv", "pull_100.csv", "pull_200.csv", "other.csv")) put_log(inbox, name, 8)
  out <- run_cli("take", folder, inbox, "--yes")
  expect_match(out$stderr, "not taken: other.csv: its name tells no value of this search")
  expect_match(out$stderr, "3 logs stored")
  expect_setequal(read_search(folder)$steps$arm, c("0", "100", "200"))
  expect_match(run_cli("search", folder)$stdout, "Next: try 300 MHz in pull (last good 200 MHz)", fixed = TRUE)
})
