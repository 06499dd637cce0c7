# Logs that have no plan: their names say what they are.
put_logs <- function(names, folder = withr::local_tempdir(.local_envir = env), gap = NA, env = parent.frame()) {
  for (i in seq_along(names)) {
    path <- file.path(folder, names[i])
    dir.create(dirname(path), showWarnings = FALSE, recursive = TRUE)
    slow <- if (grepl("slow", names[i])) 8.6 else 8
    writeLines(c("ms", format(simulate_frames(20, mean_ms = slow, seed = i))), path)
    if (!is.na(gap)) Sys.setFileTime(path, Sys.time() - 1e5 + gap * i)
  }
  folder
}
grouped <- function(files, ...) {
  found <- honestmargin:::group_names(files, ...)
  paste(found$arm, found$workload, found$pass)
}

test_that("arm and number come from the names, however they are written", {
  expect_identical(grouped(c("armA_run1.csv", "armA_run2.csv", "armB_run1.csv")), c(
    "armA main 1", "armA main 2", "armB main 1"
  ))
  expect_identical(grouped(c("125hz-01.txt.gz", "125hz-02.txt.gz", "1000hz-01.txt.gz", "1000hz-02.txt.gz")), c(
    "125hz main 1", "125hz main 2", "1000hz main 1", "1000hz main 2"
  ))
  expect_identical(grouped(c("off/1.csv", "off/2.csv", "on/1.csv", "on/2.csv")), c(
    "off main 1", "off main 2", "on main 1", "on main 2"
  ))
  expect_identical(grouped(c("driver new (1).csv", "driver new (2).csv", "driver old (1).csv")), c(
    "new main 1", "new main 2", "old main 1"
  ))
  # names of unequal length
  expect_identical(grouped(c("off 1.csv", "off 2.csv", "high rate 1.csv")), c(
    "off main 1", "off main 2", "high rate main 1"
  ))
  # two words that go together are one arm
  expect_identical(grouped(c("A_low_1.csv", "A_low_2.csv", "B_high_1.csv")), c(
    "A low main 1", "A low main 2", "B high main 1"
  ))
  expect_identical(grouped(c("off.csv", "on.csv")), c("off main 1", "on main 1"))
})

test_that("what is built otherwise is said, and what is unclear is asked with what settles it", {
  files <- c(outer(c("quay_off", "quay_on", "tower_off", "tower_on"), 1:2, function(a, b) paste0(a, "_", b, ".csv")))
  error <- tryCatch(grouped(files), error = identity)
  expect_s3_class(error, "honestmargin_error_needed")
  asked <- regmatches(conditionMessage(error), gregexpr("'[^']+'", conditionMessage(error)))[[1]]
  expect_identical(asked, c("'{arm}_{workload}_{pass}.csv'", "'{workload}_{arm}_{pass}.csv'"))
  # what it offers works as it stands
  expect_identical(grouped(files, names = "{workload}_{arm}_{pass}.csv")[1:2], c("off quay 1", "on quay 1"))
  expect_message_of(grouped(files, names = "{arm}-{pass}.csv"), "honestmargin_error_input", "is not built like")
  expect_message_of(grouped(files, names = "{workload}_{pass}.csv"), "honestmargin_error_usage", "no \\{arm\\}")
  expect_message_of(
    grouped(c("a/off_1.csv", "b/off_1.csv"), names = "{any}/{arm}_{pass}.csv"), "honestmargin_error_needed",
    "same arm and number"
  )
})

test_that("the baseline tells which part of a name is the arm, and a decimal is no border", {
  files <- c(outer(c("quay_off", "quay_on", "tower_off", "tower_on"), 1:2, function(a, b) paste0(a, "_", b, ".csv")))
  expect_identical(grouped(files, baseline = "off")[1:3], c("off quay 1", "on quay 1", "off tower 1"))
  expect_identical(grouped(files, baseline = "quay")[1:3], c("quay off 1", "quay on 1", "tower off 1"))
  clocks <- c(outer(c("2.1GHz", "2.4GHz"), 1:2, function(a, b) paste0("lap ", a, " run", b, ".csv")))
  expect_identical(grouped(clocks), c("2.1GHz main 1", "2.4GHz main 1", "2.1GHz main 2", "2.4GHz main 2"))
  versions <- c("v1.2_1.csv", "v1.10_1.csv", "v1.2_2.csv", "v1.10_2.csv")
  expect_identical(grouped(versions), c("v1.2 main 1", "v1.10 main 1", "v1.2 main 2", "v1.10 main 2"))
  expect_identical(
    grouped(c("125.1.csv", "125.2.csv", "250.1.csv", "250.2.csv")),
    c("125 main 1", "125 main 2", "250 main 1", "250 main 2")
  )
  # a number alone counts passes, before one behind a word of another kind
  all <- expand.grid(pass = 1:3, arm = c("old", "new"), scene = c("scene1", "scene2"), stringsAsFactors = FALSE)
  expect_identical(
    grouped(paste0("(", all$pass, ")_", all$arm, "_", all$scene, ".csv"), baseline = "old"),
    paste(all$arm, all$scene, all$pass)
  )
  folder <- put_logs(c(outer(c("ddr5-6000", "ddr5-6400"), 1:3, function(a, b) paste0(a, "_run", b, ".csv"))))
  expect_identical(read_logs(folder, baseline = "ddr5-6000")$plan$setting$baseline, "ddr5-6000")
  expect_message_of(read_logs(folder, baseline = "ddr4-5000"), "honestmargin_error_input", "is none of the arms")
})

test_that("a folder of logs is weighed with one command, and kept where asked", {
  names <- c(rbind(paste0("fast_run", 1:4, ".csv"), paste0("slow_run", 1:4, ".csv")))
  folder <- put_logs(names, gap = 60)
  kept <- file.path(withr::local_tempdir(), "kept")
  out <- run_cli("weigh", folder, "--worth", "2", "--save", kept)
  expect_identical(out$status, 0L)
  expect_match(out$stderr, "8 frame logs: fast x 4, slow x 4 (from the names); the order", fixed = TRUE)
  expect_match(out$stdout, "slow loses: average")
  study <- read_study(kept)
  expect_identical(study$passes$block, as.character(rep(1:4, each = 2)))
  expect_equal(as.data.frame(weigh(study, worth = 2)), as.data.frame(weigh(read_logs(folder), worth = 2)))
  # files by name, as a shell expands them
  some <- run_cli("weigh", file.path(folder, names[c(1, 2, 3, 4)]))
  expect_match(some$stderr, "4 frame logs: fast x 2, slow x 2")
  expect_identical(run_cli("weigh", folder, "--save", kept)$status, 4L)
})

test_that("a log that cannot be read is named as the tester knows it, not as it is held here", {
  folder <- put_logs(paste0(rep(c("fast", "slow"), each = 4), "_run", 1:4, ".csv"))
  broken <- file.path(folder, "slow_run3.csv")
  writeLines(append(readLines(broken), "oops", 150), broken)
  run <- run_cli("weigh", folder, "--worth", "2")
  said <- gsub("\\s+", " ", paste(run$stdout, run$stderr))
  expect_match(said, paste0(basename(folder), "/slow_run3.csv, line 151: 'oops'"), fixed = TRUE)
  expect_no_match(said, "frames/main_slow_3")
  # once
  expect_no_match(said, "neither a frame log nor a score")
})

test_that("logs of one rate a second are weighed by their means, and by nothing that needs a frame", {
  folder <- withr::local_tempdir()
  set.seed(4)
  mean_of <- list()
  for (arm in c("stock", "tuned")) for (run in 1:5) {
    rate <- round(rnorm(60, if (arm == "tuned") 106 else 100, 8), 1)
    name <- paste0(arm, "_", run)
    mean_of[[name]] <- mean(rate)
    writeLines(
      c("Time (s),GPU load (%),FPS", paste(0:59, sample(95:99, 60, TRUE), rate, sep = ",")),
      file.path(folder, paste0(name, ".csv"))
    )
  }
  study <- read_logs(folder, baseline = "stock")
  found <- subset(study$readings, metric == "frame_rate_mean")
  expect_equal(found$value, unname(unlist(mean_of[sub("main_", "", found$pass)])))
  expect_false(any(grepl("low|fps|stutter", study$readings$metric)))
  run <- run_cli("weigh", folder, "-b", "stock", "-w", "2")
  expect_match(run$stderr, "10 logs of rates: stock x 5, tuned x 5")
  expect_match(run$stdout, "tuned gains: frame rate, mean .* gain")
  expect_match(gsub("\\s+", " ", run$stdout), "one rate every 1 s, not one a frame: .* lows and stutters cannot be")
  kept <- file.path(withr::local_tempdir(), "kept")
  run_cli("weigh", folder, "-b", "stock", "--save", kept)
  expect_equal(subset(read_study(kept)$readings, metric == "frame_rate_mean")$value, found$value)
})

test_that("what programs printed is weighed by the number that a pattern finds", {
  folder <- withr::local_tempdir()
  printed <- c(old_1 = 100.5, old_2 = 101.5, old_3 = 99.5, new_1 = 104, new_2 = 105.5, new_3 = 103)
  for (name in names(printed)) {
    lines <- c("Scene 1 of 2", "Average: 7", "Scene 2 of 2", paste("Average:", printed[[name]], "fps"), "Done in 12 s")
    writeLines(lines, file.path(folder, paste0(name, ".log")))
  }
  weigh_printed <- function(...) run_cli("weigh", folder, "-b", "old", ...)
  expect_match(weigh_printed()$stderr, "where each holds a number that a program printed: --score", fixed = TRUE)
  kept <- file.path(withr::local_tempdir(), "kept")
  found <- weigh_printed("--score", "fps=Average: ([0-9.]+)", "-w", "1", "--format", "csv", "--save", kept)
  expect_match(found$stderr, "6 outputs: new x 3, old x 3")
  row <- utils::read.csv(text = found$stdout)
  d <- t.test(log(printed[4:6]), log(printed[1:3]), var.equal = TRUE)
  expect_equal(row$change[row$role == "primary"], 100 * expm1(unname(diff(rev(d$estimate)))), tolerance = 1e-6)
  expect_setequal(subset(read_study(kept)$readings, metric == "fps")$value, printed)
  # what fits twice may be two passes, so nobody is left to guess that the last one counts
  told <- findings(read_study(kept))
  expect_match(told$message[told$check == "printed_several"], "the last counts \\(.*new_1.log: 7 / 104", fixed = FALSE)
  once <- read_logs(folder, score = c(fps = "Average: ([0-9.]+) fps"))
  expect_false("printed_several" %in% findings(once)$check)
  # a study has nothing to be grouped
  idle <- run_cli("weigh", kept, "--score", "fps=Average: ([0-9.]+)")
  expect_identical(idle$status, 2L)
  expect_match(idle$stderr, "--score is for logs that have no plan", fixed = TRUE)
  # what is better has to be known, and every file has to have its number
  expect_match(weigh_printed("--score", "x=Average: ([0-9.]+)")$stderr, "--better x=lower (or =higher)", fixed = TRUE)
  expect_match(weigh_printed("--score", "x=Average: ([0-9.]+)", "--better", "x=lower")$stdout, "new loses")
  expect_match(weigh_printed("--score", "fps=Mean: ([0-9.]+)")$stderr, "finds no number")
  expect_match(weigh_printed("--score", "fps=Mean: ([0-9")$stderr, "no regular expression")
  results <- withr::local_tempdir()
  for (i in 1:6) {
    file <- sprintf("%s_%d.json", c("a", "b")[1 + i %% 2], i)
    writeLines(sprintf('{"passes": 3, "avg_fps": %d}', 90 + i), file.path(results, file))
  }
  json <- run_cli("weigh", results, "-b", "a", "--score", 'fps="avg_fps": ([0-9.]+)')
  expect_match(json$stderr, "6 outputs: a x 3, b x 3")
})

test_that("notes and summaries beside logs are no arms, and are told", {
  folder <- put_logs(paste0("2026-11-01 ", rep(c("quick", "slow"), each = 3), " run ", 1:3, ".csv"))
  writeLines("windows open", file.path(folder, "notes.txt"))
  writeLines(c("arm,avg", "quick,125", "slow,116"), file.path(folder, "summary.csv"))
  run <- run_cli("weigh", folder, "--baseline", "quick", "--format", "csv")
  expect_identical(unique(utils::read.csv(text = run$stdout)$arm), "slow")
  told <- gsub("\\s+", " ", run_cli("weigh", folder)$stdout)
  expect_match(told, "left out, as no log: notes.txt (no numeric column), summary.csv", fixed = TRUE)
  # what can be read is an arm, and so is what was named
  writeLines(c("ms", format(simulate_frames(20, mean_ms = 9, seed = 9))), file.path(folder, "notes.txt"))
  expect_true("notes" %in% read_logs(folder, baseline = "notes")$passes$arm)
})

test_that("where no log can be read it is said why", {
  folder <- withr::local_tempdir()
  for (name in c("a_1.csv", "b_1.csv")) {
    writeLines(c("Zeit;Bildzeit (ms)", sprintf("12:00:%02d;10,%d", 0:59, 0:59)), file.path(folder, name))
  }
  expect_message_of(read_logs(folder, baseline = "a"), "honestmargin_error_input", "a_1[.]csv: its rows are 1 s apart")
})

test_that("times are believed only where the passes could have run in them", {
  names <- c("slow_1.csv", "fast_1.csv", "fast_2.csv", "slow_2.csv")
  ran <- read_logs(put_logs(names, gap = 30))
  expect_identical(ran$passes$arm, c("slow", "fast", "fast", "slow"))
  expect_identical(ran$passes$block, c("1", "1", "2", "2"))
  # copied one after the other
  copied <- read_logs(put_logs(names, gap = 0.01))
  expect_true(all(is.na(copied$passes$order)))
  told <- findings(weigh(copied, worth = 2))
  expect_match(paste(told$message, collapse = " "), "run order unknown")
  # all of one arm before the other: no rounds
  stints <- read_logs(put_logs(names[c(1, 4, 2, 3)], gap = 30))
  expect_true(all(is.na(stints$passes$block)) && !anyNA(stints$passes$order))
})

test_that("three arms need a baseline, one is described, a table alone is a table, and an empty folder says so", {
  three <- put_logs(c("a_1.csv", "b_1.csv", "c_1.csv", "a_2.csv", "b_2.csv", "c_2.csv"))
  out <- run_cli("weigh", three)
  expect_identical(out$status, 2L)
  expect_match(out$stderr, "which arm is the baseline?\n  -> give --baseline: a, b, c", fixed = TRUE)
  expect_identical(run_cli("weigh", three, "--baseline", "b")$status, 0L)
  expect_match(run_cli("weigh", put_logs(c("lap1.csv", "lap2.csv")))$stderr, "one arm only")
  table <- withr::local_tempdir()
  writeLines(c("arm,score", "a,100", "b,104", "a,101", "b,105", "a,100", "b,104"), file.path(table, "scores.csv"))
  expect_match(run_cli("weigh", table, "--baseline", "a")$stdout, "b gains: score")
  expect_match(run_cli("weigh", withr::local_tempdir())$stderr, "no log in this folder, and no plan")
  # tables of scores are no frame logs, however many numbers stand in them
  file.copy(file.path(table, "scores.csv"), file.path(table, "more.csv"))
  expect_match(run_cli("weigh", table)$stderr, "no frame log among these: none holds 50 frames")
})

test_that("a sensor log beside each log of frames goes with its pass, and is no pass of its own", {
  folder <- put_logs(c(outer(c("fast", "slow"), 1:4, function(a, b) paste0(a, "_", b, ".csv"))))
  plain <- weigh(read_logs(folder, baseline = "fast"))
  hot <- function(file, from) {
    writeLines(c("Time,CPU clock [MHz],CPU temp [C]", sprintf("%d,4500,%.1f", 0:20, from + 0.2 * (0:20))), file)
  }
  for (name in list.files(folder)) {
    hot(file.path(folder, sub("[.]csv", "_hw.csv", name)), if (grepl("fast", name)) 60 else 70)
  }
  hot(file.path(folder, "idle_hw.csv"), 30)
  study <- read_logs(folder, baseline = "fast")
  expect_identical(nrow(study$passes), 8L)
  found <- weigh(study)
  expect_identical(found$change[found$role == "primary"], plain$change[plain$role == "primary"])
  heat <- subset(study$readings, metric == "processor_temperature_mean")
  # a pass takes 20 s, so the sample at its end is of no frame
  expect_equal(as.vector(tapply(heat$value, heat$arm, mean)[c("fast", "slow")]), c(60, 70) + 0.2 * mean(0:19))
  told <- findings(study)
  expect_match(told$message[told$check == "sensors_beside"], "8 sensor logs go with their passes")
  expect_match(told$message[told$check == "stray_sensors"], "of no pass, by their names: idle_hw.csv")
  # in folders of their own, and kept
  apart <- withr::local_tempdir()
  for (name in list.files(folder, "[0-9].csv")) {
    for (kind in c("frames", "sensors")) dir.create(file.path(apart, kind), showWarnings = FALSE)
    file.copy(file.path(folder, name), file.path(apart, "frames", name))
    file.copy(file.path(folder, sub("[.]csv", "_hw.csv", name)), file.path(apart, "sensors", name))
  }
  kept <- file.path(withr::local_tempdir(), "kept")
  read_logs(apart, baseline = "fast", save = kept)
  expect_length(list.files(file.path(kept, "sensors")), 8)
  again <- subset(read_study(kept)$readings, metric == "processor_temperature_mean")
  expect_equal(sort(again$value), sort(heat$value))
})
