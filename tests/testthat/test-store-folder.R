local_study <- function(plan = NULL, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  dir.create(file.path(folder, "frames"))
  from <- demo_study()
  file.copy(file.path(from, c("study.yml", "passes.csv")), folder)
  file.copy(list.files(file.path(from, "frames"), full.names = TRUE)[1:8], file.path(folder, "frames"))
  if (!is.null(plan)) writeLines(plan, file.path(folder, "study.yml"))
  folder
}

test_that("a plan's mistakes are named with line and nearest word", {
  plan <- readLines(file.path(demo_study(), "study.yml"))
  change <- function(from, to) sub(from, to, plan)
  cases <- list(
    list(change("^blocks:", "blokcs:"), "line [0-9]+: unknown key 'blokcs'.*did you mean 'blocks'"),
    list(change("^blocks: 5", "blocks: five"), "line 46: 'blocks' must be a whole number"),
    list(change("  baseline: 125", "  baseline: 250"), "line 8: baseline '250' is none of the arms"),
    list(change("^order: shuffled", "order: shufled"), "did you mean 'shuffled'"),
    list(c("a: 1", "b: ["), "not valid YAML")
  )
  for (case in cases) expect_message_of(read_study(local_study(case[[1]])), "honestmargin_error_input", case[[2]])
})

test_that("one log that cannot be read does not take the others along", {
  folder <- local_study()
  writeLines("rubbish", file.path(folder, "frames", "p004.csv"))
  unlink(file.path(folder, "frames", "p004.csv.gz"))
  study <- read_study(folder)
  expect_match(paste(findings(study)$message, collapse = "\n"), "pass p004 is not summarised.*no numeric column")
  expect_true("p005" %in% study$readings$pass[!is.na(study$readings$value)])
})

test_that("a cell that is empty inside its quotes is an empty cell", {
  folder <- local_study()
  passes <- utils::read.csv(file.path(folder, "passes.csv"), colClasses = "character", na.strings = NULL)
  utils::write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE)
  expect_true(any(grepl('""', readLines(file.path(folder, "passes.csv")), fixed = TRUE)))
  study <- read_study(folder)
  expect_every(is.na(c(study$passes$context, study$readings$context)))
  expect_identical(as.data.frame(weigh(study)), as.data.frame(weigh(read_study(local_study()))))
})

test_that("passes recorded as ok without any number are told", {
  study <- read_study(local_study())
  expect_true("p050" %in% study$findings$pass[study$findings$code == "empty"])
  told <- subset(findings(study), check == "empty")
  expect_match(told$message, "pass p[0-9]+: recorded as ok but has neither .*the like in [0-9]+ more passes")
})

test_that("a folder without a plan, and a log of no pass, are refused", {
  expect_message_of(read_study(withr::local_tempdir()), "honestmargin_error_input", "no study.yml")
  folder <- local_study()
  writeLines(c("ms", 8, 8), file.path(folder, "frames", "p0x4.csv"))
  expect_message_of(read_study(folder), "honestmargin_error_input", "'p0x4' belongs to no pass")
})

test_that("in a plain folder a pass is excluded and a sensor log added as in a ledger, and the files say why", {
  folder <- local_study()
  before <- weigh(read_study(folder), worth = 2)
  done <- run_cli("exclude", folder, "p007", "--reason", "an update ran")
  expect_identical(c(done$status, nchar(done$stdout)), c(0L, 0L))
  listed <- utils::read.csv(file.path(folder, "passes.csv"), colClasses = "character")
  expect_identical(
    unlist(listed[listed$pass == "p007", c("role", "reason")], use.names = FALSE), c("excluded", "an update ran")
  )
  original <- utils::read.csv(file.path(demo_study(), "passes.csv"), colClasses = "character")
  same <- setdiff(names(original), c("role", "reason"))
  expect_identical(listed[same], original[same])
  now <- weigh(read_study(folder), worth = 2)
  at <- which(now$workload == "harbour" & now$metric == "fps_avg" & now$arm == "2000")
  expect_identical(now$n_arm[at], before$n_arm[at] - 1L)
  expect_match(run_cli("history", folder)$stdout, "excluded: an update ran")
  expect_match(run_cli("correct", folder, "p007", "score=3", "--reason", "x")$stderr, "fix passes.csv")
  log <- write_lines("seconds,load processor [%]", paste0(seq(0, 58, 2), ",", 40:69))
  added <- add_sensors(folder, log, pass = "p008")
  expect_identical(added$samples, 30L)
  load <- subset(read_study(folder)$readings, pass == "p008" & metric == "processor_load_mean")$value
  expect_equal(load, mean(40:69), tolerance = 0.02)
  expect_error(add_sensors(folder, log, pass = "p008"), class = "honestmargin_error_input", "already")
})

test_that("a sensor log by another clock than its frames is placed or told, never silently without samples", {
  folder <- local_study()
  dir.create(file.path(folder, "sensors"))
  seconds <- 0:39
  load <- 60 + seconds %% 7
  put <- function(pass, time) {
    writeLines(c("Time,CPU load (%)", paste0(time, ",", load)), file.path(folder, "sensors", paste0(pass, ".csv")))
  }
  put("p001", format(as.POSIXct("2026-11-20 12:00:30", tz = "UTC") + seconds))
  put("p002", sprintf("12:00:%02d", seconds))
  put("p003", seconds)
  put("p004", 5000 + seconds)
  study <- read_study(folder)
  loads <- subset(study$readings, metric == "processor_load_mean")
  of <- function(pass) loads$value[loads$pass == pass]
  expect_equal(of("p003"), mean(load), tolerance = 0.02)
  expect_identical(c(of("p001"), of("p002")), rep(of("p003"), 2))
  expect_length(of("p004"), 0)
  told <- findings(study)
  expect_match(told$message[told$check == "clock_of_day"], "clock of the day.* begins with the pass", all = FALSE)
  outside <- told$message[told$check == "outside_pass"]
  expect_match(outside, "no sample of p004[.]csv falls into its pass: .*5000 to 5039 s")
})

test_that("an export never leaves its folder and never goes through a link", {
  folder <- local_study()
  listed <- file.path(folder, "passes.csv")
  writeLines(sub("^p007,", "../../../p007,", readLines(listed)), listed)
  unlink(file.path(folder, "frames", "p007.csv.gz"))
  out <- file.path(withr::local_tempdir(), "a", "export")
  expect_error(write_study(read_study(folder), out), class = "honestmargin_error_input", "cannot name a file")
  expect_false(dir.exists(out))
  expect_identical(list.files(dirname(out), all.files = TRUE, no.. = TRUE), character())
  target <- withr::local_tempdir()
  link <- file.path(withr::local_tempdir(), "link")
  file.symlink(target, link)
  expect_error(write_study(read_study(demo_study()), link), class = "honestmargin_error_stuck", "link")
  expect_identical(list.files(target), character())
  # a link that lies where a file is made aside is neither followed nor cut
  victim <- write_lines("mine")
  trap <- file.path(target, "trap")
  file.symlink(victim, trap)
  expect_false(honestmargin:::create_new_file(trap))
  expect_identical(readLines(victim), "mine")
})
