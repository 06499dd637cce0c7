test_that("passes called by their arm and a number are of that arm", {
  expected <- rep(c("off", "on"), 3)
  for (labels in list(paste0(expected, "-", rep(1:3, each = 2)), paste0(expected, " run ", rep(1:3, each = 2)))) {
    r <- read_readings(write_lines("run,fps", paste0(labels, ",", 101:106)))
    expect_identical(r$arm, expected)
    expect_identical(length(unique(r$pass)), 6L)
    # under another heading the baseline tells
    other <- write_lines("name,fps", paste0(labels, ",", 101:106))
    expect_identical(read_readings(other, columns = c(arm = "name"), baseline = "off")$arm, expected)
    expect_identical(read_readings(other, columns = c(arm = "name"))$arm, labels)
  }
  # numbers alone say no arm, nor do arms that each come once
  numbered <- write_lines("run,fps", "run 1,100", "run 2,101")
  expect_message_of(read_readings(numbered), "honestmargin_error_input", "no column 'arm'")
  once <- write_lines("run,fps", "ddr 3200,100", "xmp 3600,101")
  expect_message_of(read_readings(once), "honestmargin_error_input", "no column 'arm'")
})

test_that("the baseline tells which column is that of the arm", {
  table <- write_lines("build,map,fps,load_s", "4101,a,100,14", "4102,a,101,15", "4101,a,100,14", "4102,a,102,15")
  expect_message_of(read_readings(table), "honestmargin_error_input", "no column 'arm'")
  r <- read_readings(table, baseline = "4101")
  expect_identical(r$arm, rep(c("4101", "4102"), 4))
  expect_identical(unique(r$better[r$metric == "load_s"]), "lower")
  expect_true("arm_by_baseline" %in% findings(r)$check)
  expect_match(run_cli("weigh", table, "--baseline", "4101")$stdout, "against 4101")
  # two columns in which it stands tell nothing
  both <- write_lines("build,other,fps", "4101,4101,100", "4102,4101,101", "4102,7,101")
  expect_message_of(read_readings(both, baseline = "4101"), "honestmargin_error_input", "no column 'arm'")
})

test_that("beside a column for each arm, what is known as a place is none of the metric", {
  rows <- c(
    "Game,Preset,old 1,old 2,new 1,new 2", "quay,ultra,100,101,105,106", "tower,ultra,80,81,82,83",
    "tower,low,120,121,122,123"
  )
  r <- read_readings(write_lines(rows), better = c(value = "higher"))
  expect_identical(unique(r$metric), "value")
  expect_setequal(paste(r$workload, r$context), c("quay ultra", "tower ultra", "tower low"))
  expect_identical(r$value[r$arm == "new" & r$context == "low"], c(122, 123))
  expect_match(findings(r)$message, "'Preset' as context", all = FALSE)
})
