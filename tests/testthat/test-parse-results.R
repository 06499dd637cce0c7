write_results <- function(folder, name, lines) writeLines(lines, file.path(folder, name))

# a text as programs print it, with what stands around the numbers
printed <- function(fps, low, ...) {
  c(
    "Benchmark results", "=================", "Scene: harbour", "Resolution: 2560x1440", paste("Average FPS:", fps),
    sprintf("1%% low ....... %s", low), "Started: 18:03", ...
  )
}

test_that("a text of names and numbers for each pass is a result, by the names of the files", {
  folder <- withr::local_tempdir()
  for (i in 1:4) {
    write_results(folder, paste0("off_", i, ".txt"), printed(100 + i, 80))
    write_results(folder, paste0("on_", i, ".txt"), printed(110 + i, 80 + i))
  }
  run <- run_cli("weigh", folder, "--baseline", "off", "--worth", "2", "--format", "json")
  told <- jsonlite::fromJSON(run$stdout)
  fps <- subset(told$verdicts, metric == "Average FPS")
  expect_equal(fps$change, 100 * (prod(111:114 / 101:104)^(1 / 4) - 1), tolerance = 1e-6)
  expect_identical(unique(told$verdicts$workload), "harbour")
  expect_setequal(told$verdicts$metric, c("Average FPS", "1% low"))
  expect_identical(unique(told$verdicts$unit), "fps")
  expect_identical(unique(told$verdicts$context), "2560x1440")
  # a pass that fell before it wrote anything counts as one that failed, if its name says so
  file.create(file.path(folder, "on_5.txt"))
  expect_match(run_cli("weigh", folder, "--baseline", "off")$stderr, "on_5.txt: the file is empty", fixed = TRUE)
  file.rename(file.path(folder, "on_5.txt"), file.path(folder, "on_5_crash.txt"))
  expect_match(run_cli("weigh", folder, "--baseline", "off")$stdout, "on crashed in 1 of 5 passes", fixed = TRUE)
  # one that is built otherwise is named, notes are left out and told
  write_results(folder, "on_4.txt", "nothing of use")
  expect_match(run_cli("weigh", folder, "--baseline", "off")$stderr, "on_4.txt: holds no result as the others do")
  unlink(file.path(folder, "on_4.txt"))
  write_results(folder, "notes.txt", "the room was warm")
  run <- run_cli("weigh", folder, "--baseline", "off", "--long")
  expect_identical(run$status, 0L)
  expect_match(run$stdout, "not read, beside results: notes.txt")
})

test_that("one row below a heading, one number and decimal commas are results too", {
  folder <- withr::local_tempdir()
  paths <- file.path(folder, paste0(rep(c("off", "on"), each = 3), "_", 1:3, ".csv"))
  read <- function(lines, ...) {
    for (i in 1:6) writeLines(lines(i), paths[i])
    read_readings(paths, ...)
  }
  r <- read(function(i) c("Average FPS,1% Low FPS,Build", paste0(100 + i, ".5,", 80 + i, ",4101")))
  expect_identical(r$arm, rep(c("off", "on"), each = 3, times = 2))
  expect_identical(r$value[r$metric == "1% Low FPS"], 80 + 1:6)
  expect_identical(unique(r$better), "higher")
  expect_false("Build" %in% r$metric)
  r <- read(function(i) paste0("12", i, ".7"), better = c(value = "higher"))
  expect_identical(r$value, 120.7 + 1:6)
  r <- read(function(i) c(paste0("Ladezeit = 4,", i, " s"), "Punkte: 1000"))
  expect_equal(r$value[r$metric == "Ladezeit"], 4 + 1:6 / 10)
  expect_identical(unique(r$unit[r$metric == "Ladezeit"]), "s")
})

test_that("scenes of one result are no passes, and spelled times are read", {
  folder <- withr::local_tempdir()
  paths <- file.path(folder, paste0(rep(c("off", "on"), each = 3), "_", 1:3, ".txt"))
  for (i in 1:6) {
    lines <- c("Version: 7", "[Harbour]", paste("fps:", 100 + i), "low: 80", "", "== Tunnel ==", paste("fps:", 60 + i))
    writeLines(lines, paths[i])
  }
  r <- read_readings(paths, primary = "fps")
  expect_identical(r$value[r$metric == "fps" & r$workload == "Tunnel"], 60 + 1:6)
  expect_identical(length(unique(r$pass)), 6L)
  expect_every(is.na(r$boot))
  for (i in 1:6) writeLines(c(sprintf("real\t1m1%d.25s", i), "user\t0m9.1s"), paths[i])
  r <- read_readings(paths, better = c(real = "lower", user = "lower"))
  expect_equal(r$value[r$metric == "real"], 70.25 + 1:6)
})

test_that("results beside logs are no arms of their own, and are told; sensor logs are not lost over notes", {
  folder <- withr::local_tempdir()
  set.seed(5)
  for (arm in c("off", "on")) for (i in 1:4) {
    ms <- stats::rgamma(900, 40, scale = (if (arm == "on") 9 else 10.3) / 40) * stats::rnorm(1, 1, 0.01)
    write_results(folder, sprintf("%s_%d.csv", arm, i), c("frame time (ms)", sprintf("%.4f", ms)))
    # more of them than logs
    for (of in c("result", "system")) {
      write_results(folder, sprintf("%s_%d_%s.txt", arm, i, of), c("Average FPS: 90", "Frames: 900"))
    }
    seconds <- 0:9
    write_results(folder, sprintf("%s_%d_sensors.csv", arm, i), c(
      "time_s,graphics temperature [C]", paste0(seconds, ",", 60 + seconds)
    ))
  }
  write_results(folder, "notes.txt", c("the room", "was warm"))
  run <- run_cli("weigh", folder, "--baseline", "off", "--worth", "2", "--format", "json")
  told <- jsonlite::fromJSON(run$stdout)
  expect_identical(unique(told$verdicts$arm), "on")
  expect_identical(unique(told$verdicts$n_arm[told$verdicts$metric == "fps_avg"]), 4L)
  expect_true(all(c("results_beside", "sensors_beside", "stray_files") %in% told$findings$check))
})

test_that("the lowest of a pass is a number of it, and of which direction is asked", {
  table <- write_lines("arm,Avg FPS,Min,1%", "a,100.5,70.5,80.5", "b,101.5,71.5,81.5")
  expect_message_of(read_readings(table), "honestmargin_error_asked", "'Min' better")
  r <- read_readings(table, better = c(Min = "higher", `1%` = "higher"))
  expect_setequal(r$metric, c("Avg FPS", "Min", "1%"))
})

test_that("the report of a timer is a result: its number stands behind the last colon, its words go with the arm", {
  folder <- withr::local_tempdir()
  for (i in 1:8) {
    level <- c(1, 6)[i %% 2 + 1]
    write_results(folder, sprintf("level%d_%d.txt", level, i), c(
      sprintf("\tCommand being timed: \"pack -%d big\"", level), sprintf("\tUser time (seconds): %.2f", i / 100 + 1),
      sprintf("\tElapsed time (h:mm:ss or m:ss): 0:0%d.5", i), "\tAverage stack size (kbytes): 0", "\tExit status: 0"
    ))
  }
  asked <- run_cli("weigh", folder, "--baseline", "level1", "--format", "json")
  expect_match(asked$stderr, "'Command being timed' holds words that vary", fixed = TRUE)
  run <- run_cli(
    "weigh", folder, "--baseline", "level1", "--format", "json", "--columns", "note=Command being timed",
    "--better", "User time=lower,Elapsed time=lower"
  )
  told <- jsonlite::fromJSON(run$stdout)
  expect_setequal(told$verdicts$metric, c("User time", "Elapsed time"))
  slow <- subset(told$verdicts, metric == "Elapsed time")
  expect_identical(slow$unit, "s")
  # level1 ran as the 2nd, 4th, ..., level6 as the 1st, 3rd, ...
  expect_equal(slow$baseline_value, prod(c(2, 4, 6, 8) + 0.5)^(1 / 4), tolerance = 1e-6)
})

test_that("start proposes from results what it proposes from a table", {
  folder <- withr::local_tempdir()
  for (i in 1:2) {
    write_results(folder, paste0("stock_", i, ".txt"), printed(100 + i, 80))
    write_results(folder, paste0("tuned_", i, ".txt"), printed(110 + i, 80))
  }
  run <- processx::run("sh", c("-c", paste("yes '' | head -6 |", launcher, "start", folder)), error_on_status = FALSE)
  expect_match(run$stderr, "4 results of passes here: stock, tuned")
  expect_match(run$stderr, paste0("weigh ", folder, "/*.txt --baseline 'stock'"), fixed = TRUE)
  plan <- yaml::read_yaml(file.path(folder, "study.yml"))
  expect_identical(vapply(plan$arms, `[[`, "", "value"), c("stock", "tuned"))
  expect_identical(plan$metrics[[1]]$id, "Average FPS")
})
