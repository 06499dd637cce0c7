# What a folder's logs gave is kept from one command to the next, by what they hold.
kept_study <- function(env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  dir.create(file.path(folder, "frames"))
  writeLines(c(
    "setting: {name: cap, baseline: \"off\"}", "arms: [{value: \"off\"}, {value: \"on\"}]",
    "workloads: [{id: harbour}]",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "blocks: 2"
  ), file.path(folder, "study.yml"))
  passes <- data.frame(pass = paste0("p", 1:4), workload = "harbour", arm = c("off", "on"), block = c(1, 1, 2, 2))
  utils::write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE, quote = FALSE)
  for (i in 1:4) write_frames(folder, i, 10 + i / 100)
  folder
}
write_frames <- function(folder, i, ms) {
  frames <- sprintf("%.4f", rep(ms + c(-0.5, 0.5), each = 200))
  writeLines(c("frame_time_ms", frames), file.path(folder, "frames", paste0("p", i, ".csv")))
}
averages <- function(folder, cache) {
  run <- run_cli("weigh", folder, "--format", "csv", env = c(HONESTMARGIN_CACHE = cache))
  expect_identical(run$status, 0L)
  row <- utils::read.csv(text = run$stdout)
  c(row$baseline_value[1], row$arm_value[1])
}
# 1000 frames a second over the mean length, of two passes an arm
wanted <- function(ms) sqrt(c(prod(1000 / ms[c(1, 3)]), prod(1000 / ms[c(2, 4)])))

test_that("logs that are as they were are not read again, and any that changed are", {
  folder <- kept_study()
  cache <- withr::local_tempdir()
  ms <- 10 + 1:4 / 100
  expect_equal(averages(folder, cache), wanted(ms), tolerance = 1e-6)
  entries <- list.files(cache, full.names = TRUE)
  expect_length(entries, 4)
  expect_equal(averages(folder, cache), wanted(ms), tolerance = 1e-6)
  # what is kept is what is told
  for (entry in entries) {
    summary <- readRDS(entry)
    rate <- summary$readings$metric == "fps_avg"
    summary$readings$value[rate] <- 2 * summary$readings$value[rate]
    saveRDS(summary, entry)
  }
  expect_equal(averages(folder, cache), 2 * wanted(ms), tolerance = 1e-6)
  expect_equal(averages(folder, "off"), wanted(ms), tolerance = 1e-6)
  # another length of one pass, of the same size and time
  time <- file.mtime(file.path(folder, "frames", "p2.csv"))
  ms[2] <- 20.02
  write_frames(folder, 2, ms[2])
  Sys.setFileTime(file.path(folder, "frames", "p2.csv"), time)
  expect_equal(averages(folder, cache)[2], sqrt(1000 / ms[2] * 2 * 1000 / ms[4]), tolerance = 1e-6)
})

test_that("the plan is part of what is kept, and what is broken is made anew", {
  folder <- kept_study()
  cache <- withr::local_tempdir()
  ms <- 10 + 1:4 / 100
  averages(folder, cache)
  for (entry in list.files(cache, full.names = TRUE)) writeLines("no summary", entry)
  expect_equal(averages(folder, cache), wanted(ms), tolerance = 1e-6)
  # of its first second, about 105 of 200 quick frames go
  plan <- file.path(folder, "study.yml")
  writeLines(sub("id: harbour", "id: harbour, trim: 1", readLines(plan)), plan)
  trimmed <- averages(folder, cache)
  expect_equal(trimmed, wanted(ms - 0.5 + 200 / 295), tolerance = 5e-4)
  # nowhere to write is no reason to stop
  expect_equal(averages(folder, file.path(plan, "below a file")), trimmed)
})

test_that("R keeps nothing behind the tester's back", {
  folder <- kept_study()
  cache <- withr::local_tempdir()
  withr::local_envvar(HONESTMARGIN_CACHE = cache)
  expect_identical(nrow(read_study(folder)$passes), 4L)
  expect_length(list.files(cache), 0)
})
