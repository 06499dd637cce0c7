test_that("a hand-written file of two columns is enough", {
  r <- read_readings(write_lines("arm,score", "off,1000", "on,1012", "off,1003", "on,1009"))
  expect_equal(r$value, c(1000, 1012, 1003, 1009))
  expect_equal(unique(r$better), "higher")
  expect_equal(r$pass, as.character(1:4))
})

test_that("numbers are read as people type them", {
  r <- read_readings(write_lines("arm;load time (min:s);score", "a;1:05,2;1.234", "b;0:58;1.301"))
  times <- r[r$metric == "load time", ]
  expect_equal(times$value, c(65.2, 58))
  expect_equal(times$unit, c("s", "s"))
  expect_equal(unique(times$better), "lower")
  expect_equal(r$value[r$metric == "score"], c(1234, 1301))
  expect_match(paste(findings(r)$message, collapse = " "), "1.234 is read as 1234")
})

test_that("wide and long give the same table", {
  wide <- read_readings(write_lines("arm,pass,fps_avg,low1_mean", "a,1,100,50", "b,2,110,55"))
  long <- read_readings(write_lines(
    "arm,pass,metric,value", "a,1,fps_avg,100", "b,2,fps_avg,110", "a,1,low1_mean,50", "b,2,low1_mean,55"
  ))
  expect_equal(as.data.frame(wide), as.data.frame(long), ignore_attr = TRUE)
})

test_that("faults name line and remedy", {
  faults <- list(
    list(c("arm,value", "a,12", "b,twelve"), "line 3: 'twelve' is not a number"),
    list(c("arm,pass,value", "a,1,5", "a,1,6"), "lines? 2, 3: pass 1 has 'score'|line 2, 3: pass 1 has 'score'"),
    list(c("arm,value,outcome", "a,1,crashed", "b,2,ok"), "unknown outcome 'crashed'.*did you mean 'crash'"),
    list(c("arm,value,role", "a,1,excluded", "b,2,counted"), "excluded without a reason"),
    list(c("gizmo,score", "a,1"), "no column 'arm'"), list("arm,value", "no rows"),
    list(c("arm,value", "a,1,2"), "more or fewer cells")
  )
  for (fault in faults) {
    expect_message_of(read_readings(write_lines(fault[[1]])), "honestmargin_error_input", fault[[2]])
  }
  expect_message_of(
    read_readings(write_lines("arm,wobble", "a,1", "b,2")), "honestmargin_error_needed",
    "higher or a lower 'wobble'"
  )
})

test_that("a spreadsheet is read by the words of the trade, in English and German", {
  german <- write_lines(
    "Einstellung;Punkte;Durchlauf", "aus;1.204,5;1", "an;1.251,0;1", "aus;1.201,0;2", "an;1.249,5;2", "aus;1.207,5;3",
    "an;1.255,0;3"
  )
  read <- read_readings(german)
  expect_identical(read$arm[1:2], c("aus", "an"))
  expect_equal(read$value[1:2], c(1204.5, 1251))
  expect_identical(unique(read$better), "higher")
  expect_length(unique(read$pass), 6)
  expect_match(paste(findings(read)$message, collapse = " "), "'Einstellung' as arm")
  wide <- read_readings(write_lines(
    "variant,Frames per Second,Ladezeit (s),Temperatur", "a,60.5,12.1,70", "b,66.2,11.0,74"
  ))
  expect_identical(paste(wide$unit, wide$better)[c(1, 3, 5)], c("fps higher", "s lower", "C lower"))
  # columns that are called otherwise are named, and what the file says of a direction stands
  odd <- write_lines("Kram;Zahl;better", "x;5,5;lower", "y;6,5;lower")
  expect_identical(read_readings(odd, columns = c(arm = "Kram", value = "Zahl"))$value, c(5.5, 6.5))
  out <- run_cli("weigh", odd, "--columns", "arm=Kram,value=Zahl", "-b", "x", "--format", "json")
  expect_identical(jsonlite::fromJSON(out$stdout)$verdicts$better, "lower")
  expect_message_of(read_readings(odd, columns = c(arm = "Krm")), "honestmargin_error_input", "did you mean 'Kram'")
  expect_identical(run_cli("weigh", odd, "--columns", "Kram")$status, 2L)
  # a column under its own name is not taken over by a word that means the same
  both <- read_readings(write_lines("arm,setting,value,better", "a,1,5,lower", "b,2,6,lower"))
  expect_identical(both$arm, c("a", "b"))
})
