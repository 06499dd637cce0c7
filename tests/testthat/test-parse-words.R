test_that("words that go with the arm, or with each row, are left out and told; others are asked about", {
  rows <- data.frame(arm = rep(c("a", "b"), 3), driver = rep(c("old one", "new one"), 3), fps = 100:105)
  r <- read_readings(rows)
  expect_identical(unique(r$metric), "fps")
  told <- findings(r)
  expect_identical(told$severity[told$check == "words_with_arm"], "warning")
  expect_match(told$message[told$check == "words_with_arm"], "'driver' changes with the arm and is not read: old one")
  rows$id <- paste("row", letters[1:6])
  told <- findings(read_readings(rows))
  expect_match(told$message[told$check == "words_of_rows"], "words that every row has of its own are not read: id")
  # these may be two scenes
  rows$place <- c("quay", "tower")[c(1, 2, 1, 2, 2, 1)]
  expect_message_of(read_readings(rows), "honestmargin_error_input", "column 'place' holds words: quay, tower")
})

test_that("a number that nobody explained and that is the same in all rows is left out, unless somebody asks for it", {
  rows <- data.frame(arm = rep(c("a", "b"), 2), fps = 100:103, threads = 8, heat = 60)
  names(rows)[4] <- "heat (C)"
  expect_identical(unique(read_readings(rows)$metric), c("fps", "heat"))
  expect_identical(unique(read_readings(rows, better = c(threads = "none"))$metric), c("fps", "threads", "heat"))
})
