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
