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
})

test_that("wide and long give the same table", {
  wide <- read_readings(write_lines("arm,pass,fps_avg,low1_mean", "a,1,100,50", "b,2,110,55"))
  long <- read_readings(write_lines(
    "arm,pass,metric,value", "a,1,fps_avg,100", "b,2,fps_avg,110", "a,1,low1_mean,50", "b,2,low1_mean,55"
  ))
  expect_equal(as.data.frame(wide), as.data.frame(long), ignore_attr = TRUE)
})

test_that("passes may be numbered within their arm, whatever the column is called", {
  rows <- c("off,1,100", "off,2,101", "off,3,99", "on,1,104", "on,2,103", "on,3,105")
  for (heading in c("arm,pass,score", "arm,run,score")) {
    read <- read_readings(write_lines(heading, rows))
    expect_identical(length(unique(read$pass)), 6L)
    expect_equal(read$value, c(100, 101, 99, 104, 103, 105))
  }
  # one id at two arms is a mistake, not a number
  expect_error(
    read_readings(write_lines("arm,pass,score", "off,p1,100", "off,p2,101", "on,p3,104", "on,p1,103")),
    "pass p1 has 'score'",
    class = "honestmargin_error_input"
  )
})

test_that("faults name line and remedy", {
  faults <- list(
    list(c("arm,value,outcome", "a,1,crsh", "b,2,ok"), "unknown outcome 'crsh'.*did you mean 'crash'"),
    list(c("arm,value,role", "a,1,excluded", "b,2,counted"), "excluded without a reason"),
    list("arm,value", "no rows")
  )
  for (fault in faults) {
    expect_message_of(read_readings(write_lines(fault[[1]])), "honestmargin_error_input", fault[[2]])
  }
  for (open in list(
    list(c("arm,wobble", "a,1.5", "b,2.5"), "higher or a lower 'wobble'"),
    list(c("arm,pass,value", "a,1,5", "a,1,6"), "'pass' 1 has several numbers.*line 2, 3"),
    list(c("gizmo,score", "a,1", "b,2"), "which column holds"),
    list(c("arm,value", "a,12", "b,twelve", "a,13", "b,14"), "'twelve'"),
    list(c("arm,value", "a,1,2", "b,3"), "fewer cells")
  )) {
    error <- expect_error(read_readings(write_lines(open[[1]])), open[[2]], class = "honestmargin_error_needed")
    expect_s3_class(error, "honestmargin_error_asked")
  }
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
  columns <- attr(what_was_read(read), "columns")
  expect_identical(columns$role[columns$name == "Einstellung"], "arm")
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
  both <- write_lines("arm,setting,value,better", "a,x,5,lower", "b,y,6,lower", "a,y,5,lower")
  expect_identical(read_readings(both, columns = c(note = "setting"))$arm, c("a", "b", "a"))
})

test_that("a column for each arm is that, where the baseline stands above one", {
  wide <- write_lines("run;old;new", "1;10,5;10,1", "2;10,4;10,2", "3;10,6;10,0", "4;;10,1")
  expect_message_of(
    read_readings(wide, baseline = "old"), "honestmargin_error_asked",
    "higher or a lower 'value' better"
  )
  found <- read_readings(wide, better = c(value = "lower"), baseline = "old")
  expect_equal(found$value[found$arm == "old"], c(10.5, 10.4, 10.6, NA))
  # without it nobody guesses
  expect_message_of(
    read_readings(wide), "honestmargin_error_asked",
    "--baseline old: each of the columns old, new is one"
  )
  # rounds are paired
  file <- write_lines("block,old,new", "1,100,104", "2,101,105", "3,99,103.2")
  rounds <- read_readings(file, better = c(value = "higher"), baseline = "old")
  expect_equal(
    unname(weigh(rounds, baseline = "old")$change),
    100 * expm1(mean(log(c(104, 105, 103.2) / c(100, 101, 99))))
  )
  # one column of words says what was measured, and each may have its own direction
  several <- write_lines("metric,old,new", "render,812,861", "sort,10.2,9.8", "render,815,858", "sort,10.1,9.9")
  told <- read_readings(several, better = c(render = "higher", sort = "lower"), baseline = "old")
  expect_identical(unique(told$metric), c("render", "sort"))
  expect_equal(told$value[told$arm == "new" & told$metric == "sort"], c(9.8, 9.9))
  # what may be numbers of their own is not taken for arms
  for (heading in c("n,mean,sd", "fps,latency", "name,note,old,new", "load (s),wait (s)")) {
    row <- if (startsWith(heading, "name")) "render,warm,1,2" else gsub("[^,]+", "1", heading)
    expect_message_of(read_readings(write_lines(heading, row)), "honestmargin_error_asked", "which column holds")
  }
})

test_that("what was measured is a scene beside the arm, and a number a pass", {
  scenes <- read_readings(
    write_lines("arm,benchmark,score", "off,render,100", "off,pack,50", "on,render,104", "on,pack,51")
  )
  expect_setequal(paste(scenes$arm, scenes$workload), c("off render", "off pack", "on render", "on pack"))
  tests <- read_readings(write_lines("config,test,score,Kommentar", "a,1,100,laut", "a,2,101,", "b,1,104,", "b,2,105,"))
  expect_setequal(tests$pass, c("a 1", "a 2", "b 1", "b 2"))
  lows <- read_readings(write_lines("arm,1% lows", "a,90", "b,91"))
  expect_identical(unique(paste(lows$unit, lows$better)), "fps higher")
  # without one, the words are what each row measured
  arms <- read_readings(write_lines("what,off,on", "render score,100,104", "pack score,50,51"), baseline = "off")
  expect_identical(unique(arms$workload), "main")
  expect_setequal(arms$metric, c("render score", "pack score"))
})

test_that("metrics that nobody judges need no direction, and the same words in every row are no metric", {
  rows <- c("a,100,1.11,2000.5,X9", "a,101,1.12,2001.5,X9", "b,103,1.21,2100.5,X9", "b,104,1.22,2103.5,X9")
  file <- write_lines("arm,fps,voltage,clock,device", rows)
  asked <- run_cli("weigh", file, "--baseline", "a")
  expect_match(asked$stderr, "is a higher or a lower 'voltage' better?", fixed = TRUE)
  expect_match(asked$stderr, "is a higher or a lower 'clock' better?", fixed = TRUE)
  expect_match(asked$stderr, "--primary fps: only this is judged", fixed = TRUE)
  judged <- run_cli("weigh", file, "--baseline", "a", "--primary", "fps", "--exploratory")
  expect_identical(judged$status, 0L)
  expect_match(judged$stdout, "voltage, clock not judged")
  expect_match(judged$stdout, "Left out: column 'device'\\s+\\(X9 in\\s+all\\s+rows\\)")
  frame <- utils::read.csv(file)
  expect_identical(weigh(frame, "a", primary = "fps")$metric, "fps")
  none <- run_cli("weigh", file, "--baseline", "a", "--better", "voltage=none,clock=none", "--format", "csv")
  expect_identical(utils::read.csv(text = none$stdout)$metric, "fps")
  # one that is judged has to have a direction all the same
  expect_error(weigh(frame, "a", primary = "clock"), class = "honestmargin_error_needed")
})

test_that("numbers alone are scores of whoever the file is called after, and of which direction is asked", {
  folder <- withr::local_tempdir()
  files <- file.path(folder, c("off.txt", "on.txt"))
  writeLines(c("100", "101", "102"), files[1])
  writeLines(c("110", "111", "112"), files[2])
  expect_message_of(read_readings(files), "honestmargin_error_asked", "higher or a lower 'value'")
  run <- run_cli("weigh", files, "--baseline", "off", "--better", "value=lower", "--format", "csv")
  expect_identical(utils::read.csv(text = run$stdout)$verdict, "loss")
  expect_equal(read_readings(files[1], arm = "off", better = c(value = "lower"))$value, c(100, 101, 102))
  # so many are frames
  writeLines(format(rep(16.5, 60)), files[1])
  expect_message_of(
    read_readings(files[1], arm = "off", better = c(value = "lower")), "honestmargin_error_input",
    "no passes"
  )
})

test_that("empty rows of a spreadsheet and a heading that comes again are no passes", {
  rows <- c("off,100", "on,104", "off,101", "on,105", "off,99", "on,103")
  clean <- read_readings(write_lines(c("arm,score", rows)))
  more <- c(rows[1:2], ",", "arm,score", rows[3:4], "\"\", \"\"", rows[5:6], ",")
  odd <- read_readings(write_lines(c("arm,score", more)))
  expect_identical(odd$value, clean$value)
  expect_identical(weigh(odd, "off")$change, weigh(clean, "off")$change)
  # a tail of marks on every line is no row either
  tailed <- read_readings(write_lines(paste0(c("arm;score", gsub(",", ";", rows), ""), ";")))
  expect_identical(tailed$value, clean$value)
})
