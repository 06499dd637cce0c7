# Logs with one number every so often are no frame logs, however their times are written.
rates <- c(98.4, 103.1, 99.7, 101.2, 100.4, 97.9, 102.3, 100.8, 99.1, 101.6)

log_of <- function(heading, ...) {
  file <- withr::local_tempfile(fileext = ".csv", .local_envir = parent.frame())
  writeLines(c(heading, do.call(paste, c(list(...), sep = if (grepl(";", heading)) ";" else ","))), file)
  file
}

test_that("a row that is much longer than its frame is refused as a frame", {
  seconds <- 0:9
  uneven <- cumsum(c(0, 1.004, 0.997, 1.001, 0.999, 1.003, 1, 0.998, 1.002, 1))
  clock <- sprintf("12:00:%02d", seconds)
  logs <- list(
    log_of("Time (s),FPS", seconds, rates), log_of("Time (s),FPS", uneven, rates),
    log_of("Stamp,GPU temp [C],Framerate [FPS]", paste("2026-11-20", clock), 61, rates),
    log_of("Zeit;Bildrate", clock, sub(".", ",", rates, fixed = TRUE)), log_of("Time (ms),FPS", 1000 * seconds, rates),
    log_of("Time,FPS", 1000 * seconds, rates), log_of("Time,Frame time (ms)", clock, round(1000 / rates, 2))
  )
  for (log in logs) {
    expect_message_of(read_frames(log), "honestmargin_error_input", "rows are 1 s apart, but a frame takes (9[.]9|10)")
  }
})

test_that("a log of every frame stays one, whatever its times count", {
  ms <- rep(1000 / rates, 60)
  start <- c(0, cumsum(ms)[-600])
  logs <- list(
    log_of("Time (s),FPS", round(start / 1000, 5), round(1000 / ms, 2)),
    log_of("Elapsed time,Frame time (ms)", round(start, 3), round(ms, 3)),
    log_of("Time,Frame time (ms)", round(1e4 * start), round(ms, 3)),
    log_of("Clock,Frame time (ms)", sprintf("12:00:%02d", start %/% 1000), round(ms, 3)),
    log_of("Frame,FPS", seq_along(ms), round(1000 / ms, 2)),
    log_of("Frame time [ms],Temperature [C],Load [%]", round(ms, 3), 12, rep(8:12, 120))
  )
  for (log in logs) expect_equal(mean(read_frames(log)$frame_time_ms), mean(ms), tolerance = 0.002)
})

test_that("rates without times that would be over at once are not taken for frames", {
  few <- log_of("FPS", rates)
  expect_message_of(
    read_frames(few), "honestmargin_error_input", "10 rates without times: as one a frame they last 0.1 s"
  )
  said <- read_frames(few, list(column = 1, holds = "rates", unit = "ms"))
  expect_equal(said$frame_time_ms, 1000 / rates)
})

test_that("as a sensor log it gives the rate, and no running extreme for it", {
  log <- log_of("Time (s),FPS,1% low FPS,Framerate max [FPS],GPU load [%]", 0:9, rates, 80, 140, 97)
  sensors <- read_sensors(log)
  expect_identical(setdiff(names(sensors), "time_s"), c("rate frames [fps]", "load graphics [%]"))
  expect_identical(sensors[["rate frames [fps]"]], rates)
})
