test_that("words that each row has of its own are left out and told; others are asked about", {
  rows <- data.frame(arm = rep(c("a", "b"), 3), id = paste("row", letters[1:6]), fps = 100:105)
  r <- read_readings(rows)
  expect_identical(unique(r$metric), "fps")
  told <- findings(r)
  expect_match(told$message[told$check == "words_of_rows"], "words that every row has of its own are not read: id")
  # these may be two scenes, or arms that ran under different loads
  rows$load <- c("heavy", "light")[c(1, 2, 1, 2, 2, 1)]
  expect_message_of(read_readings(rows), "honestmargin_error_input", "column 'load' holds words: heavy, light")
  rows$load <- c("heavy", "light")[c(1, 2, 1, 2, 1, 2)]
  expect_message_of(read_readings(rows), "honestmargin_error_input", "column 'load' holds words: heavy, light")
})

test_that("a number that nobody explained and that is the same in all rows is left out, unless somebody asks for it", {
  rows <- data.frame(arm = rep(c("a", "b"), 2), fps = 100:103, threads = 8, heat = 60)
  names(rows)[4] <- "heat (C)"
  expect_identical(unique(read_readings(rows)$metric), c("fps", "heat"))
  expect_identical(unique(read_readings(rows, better = c(threads = "none"))$metric), c("fps", "threads", "heat"))
})

test_that("differences in percent that somebody worked out are no metric, unless somebody asks for them", {
  rows <- c("arm,fps,vs off", "off,120.3,0 %", "on,126.0,+4.7 %", "off,120.9,-", "on,125.4,+3.7 %")
  r <- read_readings(write_lines(rows))
  expect_identical(unique(r$metric), "fps")
  told <- findings(r)
  expect_match(told$message[told$check == "differences_left"], "worked out are not read: vs off")
  # among columns that are an arm each
  r <- read_readings(write_lines("What,Stock,OC,Difference", "quay fps,120.3,126.0,4.7%", "pier fps,60.1,60.3,0.3%"))
  expect_identical(unique(r$arm), c("Stock", "OC"))
  # a share that was measured is one all the same
  load <- write_lines("arm,fps,load change", "off,120.3,50 %", "on,126.0,60 %")
  expect_identical(unique(read_readings(load, better = c("load change" = "lower"))$metric), c("fps", "load change"))
  expect_message_of(
    read_readings(write_lines("arm,fps,load", "off,120.3,50 %", "on,126.0,60 %")), "honestmargin_error_needed", "'load'"
  )
})
