# Sheets as people keep them. What each should give is reckoned here, from the numbers in it.
read <- function(..., ext = ".csv") read_readings(write_lines(..., ext = ext), better = c(value = "higher"))
said <- function(x) findings(x)$message

test_that("rows that sum others up are no passes and no arm", {
  x <- read(
    "arm,run,score", "a,1,5.1", "a,2,5.2", "a,3,5.15", "a,Average,5.15", "b,1,5.3", "b,2,5.4", "b,Mean:,5.35"
  )
  expect_identical(x$value, c(5.1, 5.2, 5.15, 5.3, 5.4))
  expect_match(said(x), "left out, as it sums up others: 2 rows (Average, Mean:)", fixed = TRUE, all = FALSE)
  # where the word stands in the column of the arms, its numbers have to be what it says
  y <- read(
    "arm,score", "a,5.1", "a,5.2", "a,5.15", "Average,5.15", "SD,0.05", "b,5.3", "b,5.4", "Average,5.35", "SD,0.07"
  )
  expect_identical(unique(y$arm), c("a", "b"))
  expect_identical(y$value, c(5.1, 5.2, 5.15, 5.3, 5.4))
  # in a process that has attached nothing, too
  file <- write_lines("arm,score", "a,5.1", "a,5.2", "Median,5.15", "SD,0.07", "b,5.3", "b,5.4", "SD,0.07")
  alone <- run_cli("weigh", file, "--baseline", "a", "--format", "csv", anew = TRUE)
  expect_identical(utils::read.csv(text = alone$stdout)$arm, "b", info = alone$stderr)
  z <- read("arm,score", "low,5.1", "low,5.2", "max,5.2", "max,5.6", "max,5.7")
  expect_identical(z$arm, rep(c("low", "max"), 2:3))
})

test_that("titles above the heading are no heading, in a text and in a workbook", {
  x <- read("Memory test,,", "by: me,,", ",,", "arm,run,score", "a,1,100.2", "b,1,104")
  expect_identical(x$value, c(100.2, 104))
  expect_match(said(x), "above the heading is not read: Memory test, by: me", all = FALSE)
  y <- read("Punkte der Reihe", "", "arm;score", "a;100,2", "b;104,5")
  expect_identical(y$value, c(100.2, 104.5))
  skip_if_not_installed("readxl")
  sheet <- write_sheet(list(c("Memory test", NA, NA), c("arm", "score", NA), c("a", "100.2", NA), c("b", "104", NA)))
  z <- read_readings(sheet)
  expect_identical(z$value, c(100.2, 104))
  expect_match(said(z), "above the heading is not read: Memory test", all = FALSE)
})

test_that("numbered columns are the passes of each row, and not arms", {
  x <- read("arm,run 1,run 2,run 3,Average", "stock,100.2,101.1,99.8,100.37", "tuned,104.2,,104.8,104.5")
  expect_identical(tapply(x$value, x$arm, mean)[["tuned"]], 104.5)
  expect_identical(x$pass, c("stock 1", "tuned 1", "stock 2", "stock 3", "tuned 3"))
  expect_match(said(x), "sums up others: 1 column (Average)", fixed = TRUE, all = FALSE)
  # without a heading, as a spreadsheet leaves the corner empty
  y <- read_readings(write_lines(";Lauf 1 (s);Lauf 2 (s)", "Serie;1:40,5;1:41", "Optimiert;1:30;1:31,5"))
  expect_identical(y$value, c(100.5, 90, 101, 91.5))
  expect_identical(unique(y$better), "lower")
  bench <- write_lines("benchmark,run 1,run 2", "alpha,10,11", "beta,20,21")
  expect_message_of(read_readings(bench), "honestmargin_error_input", "no column 'arm'.*describe FILE --arm")
  told <- run_cli("describe", bench, "--arm", "old box", "--better", "alpha=higher,beta=lower")
  expect_match(told$stdout, "alpha +10.5 .*\\bbeta +20.5 ")
  odd <- write_lines("arm,power,run 1,run 2", "a,50,10,11", "b,60,20,21")
  expect_message_of(read_readings(odd), "honestmargin_error_input", "'power' stands beside numbered passes")
})

test_that("merged cells, row numbers and columns without a heading are met", {
  x <- read("setting,run,score", "a,1,100", ",2,101", "b,1,104", ",2,103")
  expect_identical(x$arm, rep(c("a", "b"), each = 2))
  expect_match(said(x), "'arm' is empty in 2 rows: taken from the row above", all = FALSE)
  # one that was forgotten is none that was merged
  expect_error(read("arm,score", "a,100", ",101", "a,104", "b,103"), "no arm given")
  written <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(data.frame(arm = c("a", "b", "a"), score = c(1.5, 2, 1.6)), written)
  expect_identical(read_readings(written)$value, c(1.5, 2, 1.6))
  y <- read("arm,score,", "a,100,7.5", "b,101,8", "c,99,7.5")
  expect_match(said(y), "1 column without a heading left out", all = FALSE)
})

test_that("how a pass ended may stand where its number is due", {
  x <- read("arm,fps,watts", "a,100,50", "a,crashed,", "b,103,55", "b,103.5,froze")
  ended <- unique(x[c("pass", "outcome")])
  expect_identical(ended$outcome, c("ok", "crash", "ok", "freeze"))
  expect_match(said(x), "'crashed, froze' in place of a number", all = FALSE)
  expect_error(read("arm,score", "a,100", "a,DNF"), "'DNF' is not a number.*or write how it ended: crash")
  expect_error(read("arm,load,score", "a,heavy,1", "b,light,2"), "column 'load' holds words: heavy, light")
})

test_that("the order comes from the times that are noted, where they tell one", {
  x <- read(
    "date,arm,score,notes", "2026-11-01 10:20,a,100,", "2026-11-01 10:00,b,104,window open", "2026-11-02 09:00,a,3,"
  )
  expect_identical(x$order, c(2, 1, 3))
  expect_match(said(x), "order in which the passes ran is taken from date", all = FALSE)
  expect_match(said(x), "text for people is not read: column notes", all = FALSE)
  y <- read("Datum;Uhrzeit;arm;score", "02.11.2026;9:00;a;1", "01.11.2026;23:59;b;2")
  expect_identical(y$order, c(2, 1))
  # by the day alone, and where 03/04 may be either, nobody guesses
  for (days in list(c("2026-11-01", "2026-11-01"), c("03/04/2026", "04/03/2026"))) {
    z <- read("date,arm,score", paste0(days[1], ",a,1"), paste0(days[2], ",b,2"))
    expect_true(all(is.na(z$order)))
    expect_match(said(z), "column date is not read: it tells no one order", all = FALSE)
  }
  # times of R, and the days that a workbook counts
  frame <- data.frame(started = as.POSIXct("2026-11-01", tz = "UTC") + c(60, 0), arm = c("a", "b"), score = 1:2)
  expect_identical(read_readings(frame)$order, c(2, 1))
  expect_identical(read("date,arm,score", "46327.4375,a,1", "46327.4306,b,2")$order, c(2, 1))
  # how long it took is a number of its own
  expect_identical(read("arm,time", "a,1:05", "b,0:59.5")$value, c(65, 59.5))
})

test_that("tables of one arm each are one table, and short logs of frames are none", {
  folder <- withr::local_tempdir()
  put <- function(name, ...) writeLines(c(...), file.path(folder, name))
  put("stock.csv", "run,score,watts", "1,100,50", "2,102,51", "Average,101,50.5")
  put("tuned.csv", "run,score,watts", "1,104,55", "2,103,56")
  run <- run_cli("weigh", folder, "--baseline", "stock", "--format", "csv")
  rows <- utils::read.csv(text = run$stdout)
  expect_equal(rows$change[rows$metric == "score"], 100 * (sqrt(104 * 103) / sqrt(100 * 102) - 1), tolerance = 1e-3)
  both <- run_cli("weigh", "stock.csv", "tuned.csv", "-b", "stock", wd = folder)
  expect_match(both$stdout, "each file is the table of one arm: stock, tuned")
  put("tuned.csv", "score", "104", "103")
  x <- read_readings(file.path(folder, c("stock.csv", "tuned.csv")))
  expect_identical(x$value[x$metric == "score"], c(100, 102, 104, 103))
  # under such a heading they may be frames
  for (arm in c("stock", "tuned")) put(paste0(arm, ".csv"), "frame time", "8.1", "8.2", "8.3")
  refused <- run_cli("weigh", folder)
  expect_identical(refused$status, 3L)
  expect_match(refused$stderr, "none holds 50 frames")
  # and several of a name are passes
  for (n in 1:4) put(paste0("stock_", n, ".csv"), "score,x", "8.1,2", "8.2,3")
  expect_identical(run_cli("weigh", folder)$status, 3L)
})

test_that("a table of sums alone is refused, and an arm that has not run yet has no pass", {
  sums <- write_lines("run,arm,score", "Average,a,100")
  expect_message_of(read_readings(sums), "honestmargin_error_input", "no row of it is a pass")
  r <- read_readings(write_lines("stock,tuned,spare", "100,103,", "101,104,"), better = c(value = "higher"))
  expect_identical(unique(r$arm), c("stock", "tuned"))
})

test_that("cells in quotes hold marks and quotes, and a stray quote is a letter", {
  cells <- function(...) as.list(honestmargin:::read_text_table(write_lines(...), "table", titled = TRUE)$cells)
  read <- cells(
    "arm,\"Avg, FPS\",note,", "off,100,\"a, \"\"b\"\", c\",", "on,101,5\" disk, 6\" disk", "\"un,99, \"\" ,"
  )
  expect_identical(read[["arm"]], c("off", "on", "\"un"))
  expect_identical(read[["Avg, FPS"]], c("100", "101", "99"))
  expect_identical(read[["note"]], c("a, \"b\", c", "5\" disk", NA))
  # as base R takes them apart
  rows <- c("\"x;y\";1;z", "a;\"2\";\"b \"\"c\"\"\"", " p ;3;")
  base <- utils::read.table(
    text = rows, sep = ";", quote = "\"", colClasses = "character", na.strings = "", strip.white = TRUE
  )
  expect_equal(unname(cells("k;l;m", rows)[c("k", "l", "m")]), unname(as.list(base)))
})
