# Layouts as people keep them. What each should give is reckoned here, from the numbers in it.
read <- function(..., baseline = NULL, better = c(value = "higher")) {
  read_readings(write_lines(...), better = better, baseline = baseline)
}
left_out <- function(x) paste(attr(what_was_read(x), "left_out")$what, attr(what_was_read(x), "left_out")$why)
asked <- function(..., code) {
  error <- tryCatch(read(...), honestmargin_error_asked = identity)
  expect_s3_class(error, "honestmargin_error_asked")
  expect_true(code %in% vapply(error$questions, `[[`, "", "code"), info = conditionMessage(error))
}

test_that("rows that sum others up are no passes and no arm", {
  x <- read(
    "arm,run,score", "a,1,5.1", "a,2,5.2", "a,3,5.15", "a,Average,5.15", "b,1,5.3", "b,2,5.4", "b,Mean:,5.35"
  )
  expect_identical(x$value, c(5.1, 5.2, 5.15, 5.3, 5.4))
  expect_identical(left_out(x), c("line 5 'Average'", "line 8 'Mean:'"))
  # in the column of the arms, a sum has the numbers that its word says; spread, range and geometric mean too
  y <- read(
    "arm,score", "a,5.1", "a,5.2", "a,5.15", "b,5.3", "b,5.4", "b,5.35", "Stabw,0.12", "Range,0.3", "Geomean,5.249"
  )
  expect_identical(unique(y$arm), c("a", "b"))
  # rounded down all the same
  expect_identical(unique(read("arm,score", "a,5.1", "a,5.2", "b,5.3", "b,5.45", "Average,5.26")$arm), c("a", "b"))
  # in a process that has attached nothing, too
  file <- write_lines("arm,score", "a,5.1", "a,5.2", "b,5.3", "b,5.4", "Median,5.25", "SD,0.13")
  alone <- run_cli("weigh", file, "--baseline", "a", "--format", "csv", anew = TRUE)
  expect_identical(utils::read.csv(text = alone$stdout)$arm, "b", info = alone$stderr)
  # an arm may be called so, and where nothing tells it is asked
  z <- read("arm,score", "low,5.1", "low,5.2", "max,5.2", "max,5.6", "max,5.7")
  expect_identical(z$arm, rep(c("low", "max"), 2:3))
  asked("arm,score", "a,5.1", "a,5.2", "b,5.3", "b,5.4", "Average,6", code = "sum_row")
  # numbers alone never leave a row out
  asked("arm,score", "a,5.1", "a,5.2", "a,5.3", "a,5.2", "b,6.1", "b,6.3", "b,6.5", "b,6.3", code = "mean_rows")
  sums <- write_lines("run,arm,score", "Average,a,100")
  expect_message_of(read_readings(sums), "honestmargin_error_input", "no row of it is a pass")
})

test_that("titles and notes are no heading and no pass, in a text and in a workbook", {
  x <- read("Memory test,,", "by: me,,", ",,", "arm,run,score", "a,1,100.2", "b,1,104", "* with the new fan,,")
  expect_identical(x$value, c(100.2, 104))
  expect_match(left_out(x), "Memory test|by: me|new fan", all = TRUE)
  y <- read("Punkte der Reihe", "", "arm;score", "a;100,2", "b;104,5")
  expect_identical(y$value, c(100.2, 104.5))
  skip_if_not_installed("readxl")
  sheet <- write_sheet(list(c("Memory test", NA, NA), c("arm", "score", NA), c("a", "100.2", NA), c("b", "104", NA)))
  z <- read_readings(sheet)
  expect_identical(z$value, c(100.2, 104))
  expect_match(left_out(z), "Memory test")
})

test_that("numbered columns are the passes of each row, and not arms", {
  x <- read("arm,run 1,run 2,run 3,Average", "stock,100.2,101.1,99.8,100.37", "tuned,104.2,,104.8,104.5")
  expect_identical(tapply(x$value, x$arm, mean, na.rm = TRUE)[["tuned"]], 104.5)
  expect_match(left_out(x), "'Average' worked out")
  # an average that is none is asked about
  asked("arm,run 1,run 2,Average", "stock,100.2,101.1,90", "tuned,104.2,103,80", code = "sum_column")
  y <- read(";Lauf 1;Lauf 2", "Serie;1:40,5;1:41,0", "Optimiert;1:30,0;1:31,5", baseline = "Serie")
  expect_setequal(y$value, c(100.5, 90, 101, 91.5))
  asked("arm,power,run 1,run 2", "a,50,10,11", "b,60,20,21", code = "beside")
  bench <- write_lines("benchmark,run 1,run 2", "alpha,10,11", "beta,20,21")
  told <- run_cli("describe", bench, "--arm", "old box", "--better", "value=higher")
  expect_match(told$stdout, "alpha.*10\\.5", info = told$stderr)
})

test_that("merged cells are filled where nothing speaks against it, and asked about otherwise", {
  x <- read("setting,run,score", "a,1,100", ",2,101", "b,1,104", ",2,103")
  expect_identical(x$arm, rep(c("a", "b"), each = 2))
  # the scene is merged over the settings, which are merged over runs
  y <- read(
    "scene,arm,run,fps", "lake,off,1,60", ",,2,61", ",on,1,62", ",,2,63", "town,off,1,50", ",,2,51", ",on,1,52",
    ",,2,53"
  )
  expect_identical(y$workload, rep(c("lake", "town"), each = 4))
  expect_identical(y$arm, rep(rep(c("off", "on"), each = 2), 2))
  asked("arm,score", "a,100", ",101", "a,104", "b,103", code = "blank")
  asked("arm,score", "a,100", ",101", ",102", "b,103", code = "blank")
  # both answers end where they say
  blanks <- write_lines("arm,score", "a,100", ",101", "a,104", "b,103")
  expect_identical(read_readings(blanks, answer = c(blank = "above"))$arm, c("a", "a", "a", "b"))
  expect_identical(read_readings(blanks, answer = c(blank = "out"))$value, c(100, 104, 103))
  none_above <- write_lines("arm,score", ",100", "a,101", "b,104", "b,103")
  expect_identical(read_readings(none_above, answer = c(blank = "out"))$value, c(101, 104, 103))
  written <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(data.frame(arm = c("a", "b", "a"), score = c(1.5, 2, 1.6)), written)
  expect_identical(read_readings(written)$value, c(1.5, 2, 1.6))
  asked("arm,score,", "a,100,7.5", "b,101,8", "c,99,7.5", code = "no_heading")
})

test_that("the order comes from the times that are noted, where they tell one", {
  x <- read(
    "date,arm,score,notes", "2026-11-01 10:20,a,100,", "2026-11-01 10:00,b,104,window open", "2026-11-02 09:00,a,103,"
  )
  expect_identical(x$order, c(2, 1, 3))
  expect_match(findings(x)$message, "order in which the passes ran is taken from date", all = FALSE)
  y <- read("Datum;Uhrzeit;arm;score", "02.11.2026;9:00;a;1", "01.11.2026;23:59;b;2")
  expect_identical(y$order, c(2, 1))
  # hours of one day, under a heading that says so; how long it took under one that says that
  z <- read("arm,time,fps", "a,10:20,100", "b,10:00,101", "a,11:05,102")
  expect_identical(z$order, c(2, 1, 3))
  expect_identical(unique(z$metric), "fps")
  expect_identical(read("arm,lap time", "a,1:05", "b,0:59")$value, c(65, 59))
  asked("arm,reading", "a,10:00", "b,11:00", "a,10:30", code = "time")
  # by the day alone, and where 03/04 may be either, nobody guesses; nor between two of one minute
  for (days in list(c("2026-11-01", "2026-11-01"), c("03/04/2026", "04/03/2026"))) {
    z <- read("date,arm,score", paste0(days[1], ",a,1"), paste0(days[2], ",b,2"))
    expect_true(all(is.na(z$order)))
  }
  # times of R, and the days that a workbook counts
  frame <- data.frame(started = as.POSIXct("2026-11-01", tz = "UTC") + c(60, 0), arm = c("a", "b"), score = 1:2)
  expect_identical(read_readings(frame)$order, c(2, 1))
  expect_identical(read("date,arm,score", "46327.4375,a,1", "46327.4306,b,2")$order, c(2, 1))
  # 16.2 under "Time" was measured
  expect_identical(read("arm,time (s)", "a,16.2", "b,15.9", better = c(time = "lower"))$value, c(16.2, 15.9))
  # whatever a column of days and hours is called
  file <- write_lines("arm,score,finished", "a,1,2026-11-01T10:05:00Z", "b,2,2026-11-01T10:00:00Z")
  expect_identical(read_readings(file)$order, c(2, 1))
})

test_that("tables of one arm each are one table, and short logs of frames are none", {
  folder <- withr::local_tempdir()
  put <- function(name, ...) writeLines(c(...), file.path(folder, name))
  put("stock.csv", "run,score,fps", "1,100,50", "2,102,51", "Average,101,50.5")
  put("tuned.csv", "run,score,fps", "1,104,55", "2,103,56")
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
  expect_true(run_cli("weigh", folder)$status %in% 2:3)
})

test_that("labels above the names are arms where the baseline stands there, as a table of one heading would say it", {
  as_rows <- function(..., baseline = "off") {
    r <- read_readings(write_lines(...), baseline = baseline)
    r <- r[order(r$arm, r$metric, r$workload, r$value), c("arm", "metric", "workload", "unit", "better", "value")]
    rownames(r) <- NULL
    as.data.frame(r)
  }
  plain <- as_rows(
    "arm,avg fps,1% low", "off,135.2,98.1", "off,136.1,98.5", "on,139.2,101.1", "on,140.1,100.9"
  )
  merged <- c(",off,,on,", ",avg fps,1% low,avg fps,1% low", "1,135.2,98.1,139.2,101.1", "2,136.1,98.5,140.1,100.9")
  expect_equal(as_rows(merged), plain, ignore_attr = TRUE)
  expect_equal(as_rows("Harbour lap,,,,", merged), plain, ignore_attr = TRUE)
  repeated <- c("run,off,off,on,on", ",avg fps,1% low,avg fps,1% low", merged[3:4])
  expect_equal(as_rows(repeated), plain, ignore_attr = TRUE)
  # the months below, the phones above: the baseline turns it
  months <- c(",Kestrel,,Merlin,", "run,May,June,May,June", "1,10.2,10.4,11.2,11.4", "2,10.3,10.5,11.1,11.6")
  asked(months, baseline = "May", code = "labels")
  asked(months, baseline = "Kestrel", code = "labels")
  phones <- read_readings(
    write_lines(months),
    baseline = "Kestrel", answer = c(labels = "context"), better = c(value = "higher")
  )
  expect_setequal(phones$arm, c("Kestrel", "Merlin"))
  expect_identical(phones$value[phones$arm == "Merlin" & phones$context == "June"], c(11.4, 11.6))
  turned <- read_readings(
    write_lines(months),
    baseline = "May", answer = c(labels = "context"), better = c(value = "higher")
  )
  expect_identical(turned$value[turned$arm == "June" & turned$context == "Merlin"], c(11.4, 11.6))
  by_pass <- read(",Old,,New,", ",Run 1,Run 2,Run 1,Run 2", "Avg FPS,100,101,105,106", "1% Low,80,81,82,83",
    baseline = "Old"
  )
  expect_identical(by_pass$value[by_pass$arm == "New" & by_pass$metric == "1% Low"], c(82, 83))
  skip_if(!nzchar(Sys.which("python3")), "python3 is not here")
  skip_if_not_installed("readxl")
  sheet <- write_sheet(list(
    c(NA, "off", NA, "on", NA), c("run", "fps", "low", "fps", "low"), c("1", "135.2", "98.1", "139.2", "101.1"),
    c("2", "136.1", "98.5", "140.1", "100.9")
  ))
  r <- read_readings(sheet, better = c(low = "higher"), baseline = "off")
  expect_setequal(r$value[r$arm == "on" & r$metric == "low"], c(101.1, 100.9))
})

test_that("headings and labels that hold an arm and the number of its pass are taken apart by the baseline", {
  r <- read(
    "metric,off 1,off 2,on 1,on 2", "average fps,135,136,139,140", "1% low,98,99,101,102", "power (W),210,211,212,213",
    baseline = "off", better = c(power = "lower")
  )
  expect_equal(r$value[r$arm == "on" & r$metric == "1% low"], c(101, 102))
  expect_equal(unique(r$unit[r$metric == "power"]), "W")
  # three kits are three arms
  kits <- read("run,kit 1,kit 2,kit 3", "1,100,102,104", "2,101,103,105", baseline = "kit 1")
  expect_setequal(kits$arm, c("kit 1", "kit 2", "kit 3"))
  expected <- rep(c("off", "on"), 3)
  for (labels in list(paste0(expected, "-", rep(1:3, each = 2)), paste0(expected, " run ", rep(1:3, each = 2)))) {
    for (heading in c("run", "name", "Config")) {
      r <- read(paste0(heading, ",fps"), paste0(labels, ",", 101:106), baseline = "off")
      expect_identical(r$arm, expected)
      expect_identical(length(unique(r$pass)), 6L)
    }
  }
  # numbers alone say no arm, nor do arms that each come once
  asked("run,fps", "run 1,100", "run 2,101", code = "arm")
  asked("name,fps", "ddr 3200,100", "xmp 3600,101", baseline = "ddr", code = "arm")
  # arms that hold the separator
  r <- read("kit,fps", "rich-wide-1,100", "rich-wide-2,101", "lean-wide-1,102", "lean-wide-2,103",
    baseline = "rich-wide"
  )
  expect_setequal(r$arm, c("rich-wide", "lean-wide"))
})

test_that("the baseline tells which column is that of the arm; numbers within it are passes of it", {
  table <- write_lines("build,map,fps,score", "4101,a,100,14", "4102,a,101,15", "4101,a,100,14", "4102,a,102,15")
  expect_error(read_readings(table), "which column holds the value of the setting", class = "honestmargin_error_needed")
  r <- read_readings(table, baseline = "4101")
  expect_identical(r$arm, rep(c("4101", "4102"), 4))
  expect_match(run_cli("weigh", table, "--baseline", "4101")$stdout, "4101 -> 4102")
  asked("build,other,fps", "4101,4101,100", "4102,4101,101", "4102,7,101", baseline = "4101", code = "arm")
  r <- read("card;run;fps", "A;1;100", "A;2;101", "B;1;104", "B;2;105", baseline = "A")
  expect_identical(length(unique(r$pass)), 4L)
  expect_identical(r$arm, c("A", "A", "B", "B"))
})

test_that("rows without a heading: a colon makes what follows passes, otherwise it is asked", {
  for (lines in list(
    c("off: 135.2 136.1 134.9", "on: 139.2 140.1 139.5"), c("off = 135,2; 136,1; 134,9", "on = 139,2; 140,1; 139,5")
  )) {
    r <- read(lines, baseline = "off")
    expect_equal(sort(r$value[r$arm == "off"]), c(134.9, 135.2, 136.1))
  }
  bare <- c("off,135.2,136.1,134.9", "on,139.2,140.1,139.5")
  asked(bare, baseline = "off", code = "headless")
  told <- read_readings(write_lines(bare),
    baseline = "off", better = c(value = "higher"),
    answer = c(headless = "passes")
  )
  expect_equal(sort(told$value[told$arm == "on"]), c(139.2, 139.5, 140.1))
  # the first pass of a table without heading is no metric
  rows <- read("off,1000", "on,1041", "off,1003", "on,1039", baseline = "off")
  expect_identical(rows$value, c(1000, 1041, 1003, 1039))
  # numbers in a heading are arms
  voltages <- read("map,1.25,1.35", "harbour,100,110", baseline = "1.25")
  expect_setequal(voltages$arm, c("1.25", "1.35"))
})

test_that("a number with its spread is a pass only among others; units in one column have to agree", {
  rows <- c("off,135.2 \u00b1 1.3", "on,139.2 +/- 1.2", "off,136.1 \u00b1 1.1", "on,140.1 \u00b1 1.0")
  expect_equal(read("arm,fps", rows)$value, c(135.2, 139.2, 136.1, 140.1))
  asked("arm,fps", rows[1:2], code = "spread")
  asked("arm,frame time", "off,7.40 ms", "on,0.0072 s", code = "unit")
  asked("arm,load (s)", "a,1.5 ms", "b,1.6 ms", code = "unit")
  asked("arm,x", "a,5 fps", "b,6", code = "unit")
  rates <- read("arm,speed", "a,100 fps", "a,99.5 fps", "b,104 fps", "b,105fps", "b,-")
  expect_identical(rates$value, c(100, 99.5, 104, 105, NA))
  expect_identical(unique(paste(rates$unit, rates$better)), "fps higher")
  # "1080p" and "4K" are names
  asked("arm,shown,fps", "a,1080p,60", "b,4K,61", "a,4K,60", "b,1080p,61", code = "words")
  easy <- read("arm,score (easy),score (hard)", "off,100,50", "on,102,51")
  expect_setequal(easy$metric, c("score (easy)", "score (hard)"))
})

test_that("tables parted by blanks, in a frame of strokes, with units below the heading or in sections are read", {
  drawn <- c("Setting   FPS    1% low", "-------   ----   ------", "off  100.5  80", "on   101.5  81")
  r <- read(drawn)
  expect_identical(r$value, c(100.5, 101.5, 80, 81))
  expect_identical(read("arm score", "off 100", "on 101", "off 102", "on 103")$value, c(100, 101, 102, 103))
  # blanks behind commas part nothing
  expect_identical(read("Results", "arm, score", "off, 100", "on, 101")$arm, c("off", "on"))
  r <- read("arm,draw,heat", ",W,\u00b0C", "off,250,70", "on,260,71", better = c(draw = "lower", heat = "lower"))
  expect_identical(unique(r$unit), c("W", "\u00b0C"))
  for (titles in list(c("Stock:", "Tuned"), c("ON", "OFF"), c("3200", "3600"))) {
    blocks <- c(titles[1], "run,fps", "1,100", "2,101", "", titles[2], "run,fps", "1,105", "2,106")
    r <- read(blocks, baseline = sub(":", "", titles[1]))
    expect_identical(r$arm, rep(sub(":", "", titles), each = 2))
  }
  early <- write_lines("run,fps", "1,90", "off", "1,100", "2,101", "on", "1,105", "2,106")
  asked(readLines(early), baseline = "off", code = "sections")
  later <- read_readings(early, baseline = "off", answer = c(sections = "out"))
  expect_identical(later$value, c(100, 101, 105, 106))
  expect_identical(left_out(later), "line 2 above the first title")
  # without titles they are one table
  r <- read("arm,fps", "a,100", "b,101", "arm,fps", "a,102", "b,103")
  expect_identical(r$arm, c("a", "b", "a", "b"))
  plain <- read("Setting,FPS", "stock,100.2", "tuned,99.9", "stock,100.9", "tuned,100.1")
  for (framed in list(
    c(
      "My numbers:", "", "| Setting | FPS |", "|---|--:|", "| stock | 100.2 |", "| **tuned** | 99.9 |",
      "| stock | 100.9 |",
      "| tuned | 100.1 |"
    ),
    c(
      "+-------+-------+", "|Setting|FPS    |", "+-------+-------+", "|stock  |100.2  |", "|tuned  |99.9   |",
      "|stock  |100.9  |", "|tuned  |100.1  |", "+-------+-------+"
    )
  )) {
    expect_equal(as.data.frame(read(framed))$value, as.data.frame(plain)$value)
  }
})

test_that("the marks of numbers are settled for the file: one proof decides, two that disagree are asked", {
  values <- function(...) read(...)$value
  expect_equal(values("arm;score", "a;980", "b;1,041", "a;1,003"), c(980, 1041, 1003))
  expect_equal(values("arm\tscore\tfps", "a\t10,402\t61.2", "b\t10,455\t61.9")[1:2], c(10402, 10455))
  expect_equal(values("arm;score", "a;1.204,5", "b;1.251"), c(1204.5, 1251))
  expect_equal(values("arm,score", "a,0.987", "b,1.234"), c(0.987, 1.234))
  asked("arm;score", "a;1.204", "b;1.251", code = "marks")
  asked("arm;score;fps", "a;1.204,5;61.2", "b;1.251,5;61.4", code = "marks")
  expect_equal(
    read_readings(write_lines("arm;score", "a;1.204", "b;1.251"), answer = c(marks = "comma"))$value, c(1204, 1251)
  )
  # further apart than any noise: a slip of the pen, or two things
  asked("arm,score", "a,104", "a,3", "b,105", code = "far")
  asked("arm,fps,watts", "a,100", "b,101,60", "a,102,61", code = "fields")
})

test_that("what is no UTF-8 is read as what it is, and told", {
  text <- "Einstellung;Ladezeit (s)\nh\u00f6her;1,5\nk\u00fcrzer;1,4\nh\u00f6her;1,6\nk\u00fcrzer;1,3\n"
  expected <- c(1.5, 1.4, 1.6, 1.3)
  for (encoding in c("UTF-8", "CP1252", "UTF-16LE")) {
    file <- withr::local_tempfile(fileext = ".csv")
    bytes <- iconv(text, "UTF-8", encoding, toRaw = TRUE)[[1]]
    writeBin(if (encoding == "UTF-16LE") c(as.raw(c(0xff, 0xfe)), bytes) else bytes, file)
    r <- read_readings(file)
    expect_identical(r$value, expected, info = encoding)
    expect_identical(r$arm[1:2], c("h\u00f6her", "k\u00fcrzer"), info = encoding)
    expect_identical("windows_text" %in% findings(r)$check, encoding == "CP1252", info = encoding)
  }
})

test_that("cells in quotes hold marks and quotes, and a stray quote is a letter", {
  cells <- function(...) as.list(honestmargin:::read_text_table(write_lines(...), "table")$cells)
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
