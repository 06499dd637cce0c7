rows <- list(
  c("Einstellung", "Punkte", "load time (s)"), c("off", "1000.5", "12.25"), c("on", "1041", "11"),
  c("off", "1008", "12.5"), c("on", NA, "10.75")
)
better <- c(Punkte = "higher")

test_that("a wide data frame is taken as the same table of text is", {
  text <- write_lines(vapply(rows, function(r) paste(ifelse(is.na(r), "", r), collapse = ","), ""))
  wanted <- as.data.frame(read_readings(text, columns = c(arm = "Einstellung"), better = better))
  frame <- data.frame(
    arm = c("off", "on", "off", "on"), Punkte = c(1000.5, 1041, 1008, NA), `load time (s)` = c(12.25, 11, 12.5, 10.75),
    check.names = FALSE
  )
  expect_equal(as.data.frame(read_readings(frame, better = better)), wanted, ignore_attr = TRUE)
  v <- weigh(frame[c("arm", "load time (s)")], "off", worth = 1)
  expect_identical(v$metric, "load time")
  expect_identical(v$better, "lower")
  expect_error(read_readings(data.frame(arm = character())), class = "honestmargin_error_input")
  if (requireNamespace("readODS", quietly = TRUE)) {
    sheet <- withr::local_tempfile(fileext = ".ods")
    getExportedValue("readODS", "write_ods")(frame, sheet)
    expect_equal(as.data.frame(read_readings(sheet, better = better)), wanted, ignore_attr = TRUE)
  }
})

test_that("a spreadsheet is read with one command, and what is none is refused", {
  skip_if(!nzchar(Sys.which("python3")), "python3 is not here")
  skip_if_not_installed("readxl")
  sheet <- write_sheet(rows)
  read <- read_readings(sheet, columns = c(arm = "Einstellung"), better = better)
  expect_identical(read$value[read$metric == "Punkte"], c(1000.5, 1041, 1008, NA))
  shell <- run_cli("weigh", sheet, "--better", "Punkte=higher", "-b", "off")
  expect_identical(shell$status, 0L, info = shell$stderr)
  expect_match(shell$stdout, "load time .*12.37 -> 10.87")
  broken <- write_lines("no workbook", ext = ".xlsx")
  expect_message_of(read_readings(broken), "honestmargin_error_input", "cannot be read as a spreadsheet")
  expect_identical(run_cli("weigh", "none.xlsx", "-b", "off")$status, 3L)
})

test_that("of a workbook the first sheet with rows is read, or those that are named", {
  skip_if(!nzchar(Sys.which("python3")), "python3 is not here")
  skip_if_not_installed("readxl")
  heading <- c("score", "ms")
  book <- write_sheet(sheets = list(
    cover = list("my results"), off = list(heading, c("100", "5"), c("101", "5.5")),
    on = list(heading, c("104", "4"), c("105", "4.5"))
  ))
  alone <- read_readings(book, arm = "box")
  expect_identical(alone$value, c(100, 101, 5, 5.5))
  other <- findings(alone)[findings(alone)$check == "other_sheets", ]
  expect_identical(other$severity, "warning")
  expect_match(other$message, "only the sheet off is read, and the workbook has on too")
  expect_identical(read_readings(book, arm = "box", sheet = "on")$value, c(104, 105, 4, 4.5))
  asked <- run_cli("weigh", book, "--baseline", "off")
  expect_match(asked$stderr, "--sheet off,on: each sheet is one", fixed = TRUE)
  both <- run_cli("weigh", book, "--baseline", "off", "--sheet", "off,on", "--format", "csv")
  expect_identical(utils::read.csv(text = both$stdout)$arm, c("on", "on"))
  expect_message_of(read_readings(book, sheet = "of"), "honestmargin_error_input", "did you mean 'off'")
  expect_message_of(read_readings(write_lines("a,b"), sheet = "on"), "honestmargin_error_usage", "only a workbook")
})
