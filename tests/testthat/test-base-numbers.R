parse <- honestmargin:::parse_typed_numbers

test_that("numbers are read in every way people type them", {
  cases <- list(
    "12" = 12, "12.5" = 12.5, "-3.25" = -3.25, "1e3" = 1000, "1,234" = 1234, "1,234,567.8" = 1234567.8,
    "1 234" = 1234, "1'234.5" = 1234.5, "0:58" = 58, "1:05.2" = 65.2, "1:00:01" = 3601, " 7 " = 7
  )
  for (text in names(cases)) {
    read <- parse(text)
    expect_equal(read$value, cases[[text]], info = text)
    expect_length(read$bad, 0)
  }
})

test_that("a column is read by one convention, and the file's separator breaks ties", {
  expect_equal(parse(c("1.234", "12,5"))$value, c(1234, 12.5))
  expect_equal(parse(c("1,234", "12.5"))$value, c(1234, 12.5))
  expect_equal(parse("12,5", decimal = "comma")$value, 12.5)
  expect_equal(parse("1.234", decimal = "comma")$value, 1234)
  expect_equal(parse("1.234", decimal = "point")$value, 1.234)
})

test_that("what is no number is named by its place, and empty stays empty", {
  read <- parse(c("1", "", "n/a", "-", NA, "twelve", "1.2.3", "5 fps"))
  expect_identical(read$bad, c(6L, 7L, 8L))
  expect_every(is.na(read$value[-1]))
})

test_that("numbers are shown with the digits that were measured", {
  show <- honestmargin:::show_change
  expect_identical(show(-3.4023, "percent", "", 1.5), "-3.4 %")
  expect_identical(show(-3.4023, "percent", "", 15), "-3 %")
  expect_identical(show(0.01234, "percent", "", 0.004), "+0.0123 %")
  expect_identical(show(-0.0004, "percent", "", 0.5), "0.00 %")
  expect_identical(show(2, "absolute", "%", 0.5), "+2.00 points")
  expect_identical(show(NA, "percent", "", NA), "")
  expect_identical(
    honestmargin:::show_number(c(0.00123, 12.345, 12480, NA, Inf)), c("0.001", "12.3", "12480", "", "Inf")
  )
})

test_that("near words are found and far ones are not", {
  near <- honestmargin:::did_you_mean
  expect_identical(near("basline", c("baseline", "blocks")), "did you mean 'baseline'?")
  expect_match(near("xyzzy", c("baseline", "blocks")), "known here: baseline, blocks")
  expect_identical(honestmargin:::some_of(1:7, 3), "1, 2, 3 and 4 more")
  expect_identical(honestmargin:::count_of(1, "pass", "passes"), "1 pass")
})

test_that("numbers are told as they are, and how a session prefers to write them changes nothing", {
  many <- data.frame(
    arm = rep(c(100000, 200000), 5), value = c(99.5, 99.1, 100.5, 100.2, 100, 99.6, 99.7, 99.4, 100, 99.9)
  )
  verdicts <- weigh(many, baseline = 100000, worth = 2)
  expect_identical(c(verdicts$baseline[1], verdicts$arm[1]), c("100000", "200000"))
  expect_match(headline(verdicts), "^200000 is negligible: score -0.30 %")
  study <- read_study(demo_study())
  told <- function() {
    page <- xml2::read_html(write_report(verdicts, withr::local_tempfile(fileext = ".html")))
    drawn <- xml2::xml_find_all(page, "//*[@class='range' or @class='mean' or @class='worth']")
    c(findings(study)$message, findings(study)$todo, as.character(drawn))
  }
  usual <- told()
  expect_match(usual, "class=\"range\" x1=\"[0-9]+[.][0-9]\"", all = FALSE)
  withr::local_options(OutDec = ",", scipen = -5, digits = 3)
  expect_identical(told(), usual)
  # without an e where it stands among words
  expect_no_match(run_cli("weigh", demo_study(), "--more", "--exploratory")$stdout, "[0-9]e-?[0-9]")
})

test_that("what people write where there is no number is empty, and nothing else is", {
  nothing <- c("", "-", "--", "\u2013", "\u2014", "NA", "N/A", "n/a", "#N/A", "NULL", "null", "none")
  read <- parse(c(nothing, "12.5"))
  expect_identical(read$value, c(rep(NA, length(nothing)), 12.5))
  expect_identical(length(read$bad), 0L)
  expect_identical(parse(c("?", "x", "failed", "NaN", "5"))$bad, 1:4)
})
