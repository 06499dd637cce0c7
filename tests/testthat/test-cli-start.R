start_with <- function(folder, ...) {
  processx::run("sh", c("-c", paste0(
    "printf '%s\\n' ", paste(shQuote(c(...)), collapse = " "), " | ", launcher, " start ",
    folder
  )), error_on_status = FALSE, timeout = 60)
}

test_that("five questions make a first plan that runs", {
  folder <- file.path(withr::local_tempdir(), "new")
  run <- start_with(folder, "menu cap", "off", "off, on", "echo {arm} 12", "score", "a bit", "2")
  expect_identical(run$status, 0L, info = run$stderr)
  planned <- plan_study(file.path(folder, "study.yml"))
  expect_setequal(planned$schedule$arm, c("off", "on"))
  expect_identical(run_study(folder, most = 2)$state, "paused")
  card <- run_cli("plan", folder, "--card")
  expect_match(card$stdout, "[ ] 1. set menu cap to", fixed = TRUE)
  shown <- run_cli("plan", folder)
  expect_lte(max(nchar(strsplit(shown$stdout, "\n")[[1]])), 80)
  expect_match(start_with(folder, "x")$stderr, "there is a plan already")
})

test_that("Enter takes what the folder proposes: logs, a table, a program", {
  logs <- withr::local_tempdir()
  for (arm in c("mild", "wild")) {
    for (i in 1:3) writeLines(format(plain_frames(10, 10, i)), file.path(logs, paste0(arm, "_run", i, ".csv")))
  }
  run <- start_with(logs, "", "wild, mild", "lap", "", "+3")
  expect_match(run$stderr, "6 frame logs here: mild x 3, wild x 3")
  study <- read_study(logs)
  expect_identical(sum(!is.na(study$readings$value) & study$readings$metric == "fps_avg"), 6L)
  expect_identical(study$plan$setting$baseline, "wild")
  expect_equal(weigh(study)$worth[1], 3)
  expect_true(file.exists(file.path(logs, "mild_run1.csv")))
  fewer <- withr::local_tempdir()
  file.copy(list.files(logs, "run[0-9][.]csv", full.names = TRUE), fewer)
  expect_match(start_with(fewer, "", "mild, calm", "", "", "")$stderr, "not taken in, .* the logs of wild")
  sheet <- withr::local_tempdir()
  writeLines(c("arm;load time (s)", "old;12,1", "new;10,4", "old;12,4", "new;10,2"), file.path(sheet, "times.csv"))
  run <- start_with(sheet, "disk", "", "", "", "")
  plan <- plan_study(file.path(sheet, "study.yml"))$plan
  expect_identical(plan$setting$baseline, "old")
  expect_equal(plan$metrics[[1]][c("id", "worth", "better")], list(id = "load time", worth = 2, better = "lower"))
  expect_match(run$stderr, "weigh .*times.csv --baseline 'old' --worth 2")
  program <- withr::local_tempdir()
  path <- file.path(program, "turn it.sh")
  writeLines(c("#!/bin/sh", "sleep 0.1"), path)
  Sys.chmod(path, "755")
  run <- start_with(program, "speed", "1, 2", "", "load time", "-2")
  expect_match(run$stderr, "'./turn it.sh' {arm}", fixed = TRUE)
  expect_identical(plan_study(program)$plan$workloads[[1]]$id, "turn it")
  expect_identical(run_study(program, most = 2)$state, "paused")
  values <- read_study(program)$readings$value
  expect_true(any(values >= 0.1 & values < 5))
})

test_that("a number of which nobody knows what is better must be said, and leaving writes nothing", {
  folder <- file.path(withr::local_tempdir(), "new")
  run <- start_with(folder, "cap", "", "", "frobs", "2", "-4")
  expect_match(run$stderr, "a number with \\+ or - before it")
  expect_identical(plan_study(file.path(folder, "study.yml"))$plan$metrics[[1]]$better, "lower")
  skip_if(!nzchar(Sys.which("script")), "no pseudo-terminal here")
  left <- file.path(withr::local_tempdir(), "left")
  run <- processx::run("sh", c("-c", paste0(
    "(sleep 3; echo cap; sleep 1; printf '\\003'; sleep 3) | script -qefc \"", launcher,
    " start ", left, "\" /dev/null; echo status $?"
  )), timeout = 60)
  expect_match(run$stdout, "status 130")
  expect_false(file.exists(left))
})
