day_clock <- function(ms, digits = 3) {
  s <- round(ms / 1000, digits)
  sprintf(paste0("%02d:%02d:%0", 3 + digits, ".", digits, "f"), s %/% 3600 %% 24, s %% 3600 %/% 60, s %% 60)
}

test_that("frames stamped with the time of day are read, past midnight and beside a date too", {
  set.seed(2)
  ms <- round(stats::rgamma(600, 60, 6), 3)
  # ends a second past midnight
  at <- 86400e3 + 1000 - sum(ms) + cumsum(ms)
  stamps <- day_clock(at, 6)
  logs <- list(
    c("time,frame", paste0(stamps, ",", seq_along(ms))), paste0("2026-11-30T", stamps, "Z"),
    c("Zeit;Bild", paste0(sub(".", ",", stamps, fixed = TRUE), ";", seq_along(ms)))
  )
  for (log in logs) {
    frames <- read_frames(write_lines(log))
    expect_equal(frames$frame_time_ms, ms[-1], tolerance = 1e-6)
  }
  # a column that says how long each took is better than stamps
  both <- read_frames(write_lines("time,ms", paste0(day_clock(at, 3), ",", ms)))
  expect_equal(both$frame_time_ms, ms)
  expect_message_of(
    read_frames(write_lines("time,frame", paste0(stamps[c(1:99, 50, 100:600)], ",1"))),
    "honestmargin_error_input", "line 101: timestamps run backwards"
  )
})

test_that("a decimal comma in quotes is no mark between columns", {
  ms <- sprintf("\"%d,%03d\"", 10:14, as.integer(seq(5, 995, by = 10)))
  frames <- read_frames(write_lines("FrameTime", ms))
  expect_equal(frames$frame_time_ms, as.numeric(sub(",", ".", gsub("\"", "", ms), fixed = TRUE)))
})

test_that("of times written in whole milliseconds no pass is called odd or throttled for their steps alone", {
  folder <- withr::local_tempdir()
  set.seed(3)
  for (arm in c("off", "on")) for (i in 1:4) {
    ms <- stats::rgamma(2000, 60, 60 / if (arm == "on") 9.6 else 10.2) * stats::rnorm(1, 1, 0.004)
    writeLines(c("time,frame", paste0(day_clock(36e6 + cumsum(ms)), ",", 1:2000)), file.path(
      folder, paste0(arm, "_", i, ".csv")
    ))
  }
  told <- findings(weigh(read_logs(folder, baseline = "off"), worth = 2))$check
  expect_true("resolution" %in% told)
  expect_false(any(c("odd_pass", "shifted", "two_paces", "fades") %in% told))
})

test_that("a file of a record for each frame is no result of a pass", {
  folder <- withr::local_tempdir()
  for (arm in c("off", "on")) for (i in 1:2) {
    writeLines(sprintf("{\"ms\": %.3f}", 10 + seq_len(600) / 1000), file.path(folder, paste0(arm, "_", i, ".jsonl")))
  }
  run <- run_cli("weigh", folder, "--baseline", "off", "--better", "ms=lower")
  expect_match(run$stderr, "600 records in one file: these are frames or samples")
})
