test_that("labels above the names are arms, metrics or scenes, as a table of one heading would say it", {
  as_rows <- function(...) {
    r <- read_readings(write_lines(...))
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
  expect_equal(as_rows("test,off,,on,", sub("^,", "run,", merged[2]), merged[3:4]), plain, ignore_attr = TRUE)
  repeated <- c("run,off,off,on,on", ",avg fps,1% low,avg fps,1% low", merged[3:4])
  expect_equal(as_rows(repeated), plain, ignore_attr = TRUE)
  expect_equal(as_rows(
    "run;avg fps;;1% low;", ";off;on;off;on", "1;135,2;139,2;98,1;101,1", "2;136,1;140,1;98,5;100,9"
  ), plain, ignore_attr = TRUE)
  expect_equal(as_rows("Harbour lap,,,,,,", merged), plain, ignore_attr = TRUE)
  expect_error(read_readings(write_lines(",off,,on,,more", merged[-1])), "labels above has more cells than the heading")
  scenes <- as_rows(
    ",harbour,,tunnel,", "arm,avg fps,1% low,avg fps,1% low", "off,135.2,98.1,90,80", "on,139.2,101.1,91,81"
  )
  expect_equal(scenes$value[scenes$workload == "tunnel"], c(80, 90, 81, 91))
  said <- read_readings(write_lines(merged))
  expect_match(findings(said)$message, "two rows: off, on are taken as the arm", all = FALSE)
})

test_that("a sheet with a heading of two rows is read alike", {
  skip_if(!nzchar(Sys.which("python3")), "python3 is not here")
  skip_if_not_installed("readxl")
  sheet <- write_sheet(list(
    c(NA, "off", NA, "on", NA), c("run", "fps", "low", "fps", "low"), c("1", "135.2", "98.1", "139.2", "101.1"),
    c("2", "136.1", "98.5", "140.1", "100.9")
  ))
  r <- read_readings(sheet, better = c(low = "higher"))
  expect_setequal(r$value[r$arm == "on" & r$metric == "low"], c(101.1, 100.9))
})

test_that("headings that number the passes of several arms, or of one row each", {
  r <- read_readings(write_lines(
    "metric,off 1,off 2,on 1,on 2", "average fps,135,136,139,140", "1% low,98,99,101,102", "power (W),210,211,212,213"
  ), better = c(power = "lower"))
  expect_setequal(r$pass, c("off 1", "off 2", "on 1", "on 2"))
  expect_equal(r$value[r$arm == "on" & r$metric == "1% low"], c(101, 102))
  expect_equal(unique(r$unit[r$metric == "power"]), "W")
  # three kits are three arms
  expect_setequal(read_readings(write_lines(
    "run,kit 1,kit 2,kit 3", "1,100,102,104", "2,101,103,105"
  ), better = c(value = "higher"))$arm, c("kit 1", "kit 2", "kit 3"))
})

test_that("rows without a heading are arms and their passes", {
  for (lines in list(
    c("off,135.2,136.1,134.9", "on,139.2,140.1,139.5"), c("off: 135.2 136.1 134.9", "on: 139.2 140.1 139.5"),
    c("off = 135,2; 136,1; 134,9", "on = 139,2; 140,1; 139,5"), c("off 135.2 136.1 134.9", "on 139.2 140.1 139.5")
  )) {
    r <- read_readings(write_lines(lines), better = c(value = "higher"))
    expect_equal(sort(r$value[r$arm == "off"]), c(134.9, 135.2, 136.1))
    expect_match(findings(r)$message, "without a heading, each row is taken as an arm", all = FALSE)
  }
  # numbers in a heading are arms, and a metric's name is none
  voltages <- read_readings(write_lines("test,1.25,1.35", "harbour,100,110"), better = c(harbour = "higher"))
  expect_setequal(voltages$arm, c("1.25", "1.35"))
})

test_that("a number with its spread is a pass only among others; units in one column have to agree", {
  rows <- c("off,135.2 \u00b1 1.3", "on,139.2 +/- 1.2", "off,136.1 \u00b1 1.1", "on,140.1 \u00b1 1.0")
  r <- read_readings(write_lines("arm,fps", rows))
  expect_equal(r$value, c(135.2, 139.2, 136.1, 140.1))
  expect_error(
    read_readings(write_lines("arm,fps", rows[1:2])), "is a mean with its spread",
    class = "honestmargin_error_needed"
  )
  expect_error(
    read_readings(write_lines("arm,frame time", "off,7.40 ms", "on,0.0072 s")), "line 3: '7.40 ms' and '0.0072 s'"
  )
})

test_that("names that differ in what stands in brackets alone stay apart", {
  r <- read_readings(write_lines("arm,score (easy),score (hard)", "off,100,50", "on,102,51"))
  expect_setequal(r$metric, c("score (easy)", "score (hard)"))
})

test_that("words before the passes of arms that stand above say what each row measured", {
  r <- read_readings(write_lines(
    ",Old,,New,", ",Run 1,Run 2,Run 1,Run 2", "Avg FPS,100,101,105,106", "1% Low,80,81,82,83"
  ))
  expect_setequal(r$metric, c("Avg FPS", "1% Low"))
  expect_identical(r$value[r$arm == "New" & r$metric == "1% Low"], c(82, 83))
})
