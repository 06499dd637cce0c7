counted <- function(...) {
  r <- read_readings(write_lines(...), better = c(value = "higher"))
  r$value[r$role == "counted"]
}

test_that("rows that are called warm-ups do not count, and it is told", {
  by_label <- write_lines(
    "arm,run,fps", "off,Run 1 (warm-up),120", "off,Run 2,136", "off,Run 3,135", "on,Run 1 (warm-up),121",
    "on,Run 2,140", "on,Run 3,139"
  )
  r <- read_readings(by_label)
  expect_identical(r$role, rep(c("warm_up", "counted", "counted"), 2))
  expect_identical(counted("arm,phase,fps", "a,warmup,1", "a,run,5", "b,warmup,2", "b,run,6"), c(5, 6))
  expect_identical(counted("arm,warm-up,fps", "a,yes,1", "a,no,5", "b,yes,2", "b,no,6"), c(5, 6))
  expect_identical(counted("arm,fps", "a (warm-up),1", "a,5", "b_warmup,2", "b,6"), c(5, 6))
  expect_identical(counted("Arm;Lauf;FPS", "a;Aufw\u00e4rmen;1", "a;1;5", "b;Aufw\u00e4rmen;2", "b;1;6"), c(5, 6))
  expect_identical(counted("arm,Run 1 (warm-up),Run 2,Run 3", "a,1,5,7", "b,2,6,8"), c(5, 6, 7, 8))
})

test_that("a note of another kind, a setting, and a measured warm-up are none", {
  expect_identical(counted("arm,note,fps", "a,no warm-up done,1", "a,,5", "b,,2", "b,,6"), c(1, 5, 2, 6))
  expect_identical(counted("arm,fps", "warm-up,1", "warm-up,2", "cold,5", "cold,6"), c(1, 2, 5, 6))
  expect_identical(counted("arm,role,run,fps", "a,counted,warm-up,1", "a,counted,2,2"), c(1, 2))
  measured <- read_readings(write_lines("arm,warm-up time (s),fps", "a,9,100", "b,8,101"),
    better = c(`warm-up time` = "lower")
  )
  expect_setequal(measured$metric, c("warm-up time", "fps"))
})

test_that("logs that are called warm-ups are left out, whatever the others are called", {
  folder <- withr::local_tempdir()
  log <- function(name, mean, seed) {
    dir.create(dirname(file.path(folder, name)), FALSE, TRUE)
    writeLines(format(simulate_frames(8, mean_ms = mean, seed = seed)), file.path(folder, name))
  }
  names <- list(
    words = c("off_warmup", "off_1", "off_2", "on_warmup", "on_1", "on_2"),
    numbers = c("off_run1_warm-up", "off_run2", "off_run3", "on_run1_warm-up", "on_run2", "on_run3"),
    folders = c("off/warm_up", "off/run1", "off/run2", "on/warm_up", "on/run1", "on/run2")
  )
  for (way in names) {
    unlink(list.files(folder, full.names = TRUE), recursive = TRUE)
    for (i in 1:6) log(paste0(way[i], ".csv"), c(12, 8, 8)[(i - 1) %% 3 + 1], i)
    study <- read_logs(folder)
    expect_identical(sort(study$passes$arm), c("off", "off", "on", "on"))
    expect_match(findings(study)$message, "left out, as a warm-up by its name: 2 logs", all = FALSE)
    expect_true(all(study$readings$value[study$readings$metric == "fps_avg"] > 100))
  }
  unlink(list.files(folder, full.names = TRUE), recursive = TRUE)
  for (i in 1:2) for (arm in c("warmup", "cold")) log(paste0(arm, "_", i, ".csv"), 8, i + 10 * (arm == "cold"))
  expect_setequal(read_logs(folder)$passes$arm, c("cold", "warmup"))
})
