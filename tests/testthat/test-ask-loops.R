# twenty loops a run; one device falls by 13 % from loop 8 on, the other holds
stress <- function(runs = 3, seed = 2, fall = 0.13) {
  set.seed(seed)
  rows <- expand.grid(loop = 1:20, run = seq_len(runs), device = c("one", "other"), stringsAsFactors = FALSE)
  down <- ifelse(rows$device == "other" & rows$loop >= 8, 1 - fall, 1)
  rows$score <- round(6000 * down * exp(rnorm(nrow(rows), sd = 0.004)))
  rows
}
readings_of_loops <- function(...) read_readings(stress(...), baseline = "one")

test_that("what each run did over its loops is told as it was put in", {
  found <- as.data.frame(run_loops(readings_of_loops()))
  expect_identical(found$from, rep(c(NA, 8L), each = 3))
  expect_every(abs(found$fall[4:6] + 13) < 1)
  mine <- stress()[1:20, "score"]
  expect_equal(
    unlist(found[1, c("loops", "first", "best", "lowest", "last", "level")], use.names = FALSE),
    c(20, mine[1], max(mine), min(mine), mine[20], 100 * min(mine) / max(mine))
  )
  page <- file.path(withr::local_tempdir(), "r.html")
  write_report(readings_of_loops(), page, baseline = "one", worth = 2)
  expect_match(paste(readLines(page), collapse = " "), "<h2>Loops of each run</h2>.*from loop 8")
  # where less is better, the highest is the worst
  slower <- stress()
  names(slower)[4] <- "render time (s)"
  lower <- as.data.frame(run_loops(read_readings(slower, baseline = "one")))
  expect_equal(lower$lowest[1], max(mine))
})

test_that("a run is weighed once, by its mean and its worst loop", {
  readings <- readings_of_loops()
  expect_identical(as.integer(table(readings$metric)), c(6L, 6L))
  rows <- stress()
  expect_equal(
    readings$value[readings$metric == "score"],
    as.numeric(tapply(rows$score, paste(rows$device, rows$run), mean))
  )
  expect_identical(unique(weigh(readings, "one", 2)$n_arm), 3L)
  # the numbers of loops begin again where another run begins
  rows$run <- NULL
  same <- read_readings(rows, baseline = "one")
  expect_equal(same$value, readings$value)
})

test_that("runs that do not fall are rarely said to, over all runs together", {
  set.seed(5)
  said <- replicate(120, {
    rows <- data.frame(arm = "a", run = rep(1:4, each = 12), loop = rep(1:12, 4), score = rnorm(48, 100))
    any(!is.na(as.data.frame(run_loops(read_readings(rows, arm = NULL)))$from))
  })
  # 5 % meant: at most 13 of 120 in 999 of 1000 such tests
  expect_lte(sum(said), stats::qbinom(0.999, 120, 0.05))
})

test_that("several numbers of one pass are asked about, and each answer ends where it says", {
  path <- write_lines("arm,run,fps", paste0(rep(c("off", "on"), each = 8), ",", rep(rep(1:4, each = 2), 2), ",", c(
    60, 62, 61, 61, 60, 61, 62, 60, 70, 72, 71, 71, 70, 71, 72, 70
  )))
  ask <- run_cli("weigh", path, "-b", "off", "-w", "2")
  expect_identical(ask$status, 2L)
  expect_match(ask$stderr, "--answer repeats=looks")
  looks <- read_readings(path, baseline = "off", answer = c(repeats = "looks"))
  expect_equal(looks$value, c(61, 61, 60.5, 61, 71, 71, 70.5, 71))
  loops <- read_readings(path, baseline = "off", answer = c(repeats = "loops"))
  expect_equal(loops$value[loops$metric == "fps, worst loop"], c(60, 61, 60, 60, 70, 71, 70, 70))
  passes <- read_readings(path, baseline = "off", answer = c(repeats = "passes"))
  expect_identical(nrow(passes), 16L)
  # a column says it without being asked
  looked <- read_readings(
    data.frame(arm = rep(c("off", "on"), each = 4), run = rep(c(1, 1, 2, 2), 2), look = rep(1:2, 4), fps = 60:67),
    baseline = "off"
  )
  expect_equal(looked$value, c(60.5, 62.5, 64.5, 66.5))
})

test_that("a loop that crashed is how its run ended", {
  rows <- data.frame(
    arm = rep(c("a", "b"), each = 6), run = rep(rep(1:2, each = 3), 2), loop = rep(1:3, 4), score = 100 + 1:12
  )
  rows$outcome <- "ok"
  rows$outcome[12] <- "crash"
  rows$score[12] <- NA
  found <- read_readings(rows, baseline = "a")
  expect_identical(unique(found$outcome[found$pass == "b 2"]), "crash")
  expect_match(headline(weigh(found, "a", 2)), "b crashed in 1 of 2 passes")
})

test_that("results that print a number a loop are runs of loops, one a file", {
  folder <- withr::local_tempdir()
  set.seed(4)
  truth <- list()
  for (device in c("one", "other")) {
    for (run in 1:2) {
      v <- round(6000 * exp(rnorm(12, sd = 0.004)) * ifelse(device == "other" & 1:12 > 6, 0.9, 1))
      truth[[paste(device, run)]] <- v
      writeLines(sprintf("Loop %d: %d points", 1:12, v), file.path(folder, paste0(device, "_", run, ".txt")))
    }
  }
  said <- run_cli("ask", folder, "loops", "-b", "one")
  expect_identical(said$status, 0L)
  expect_match(said$stdout, "other holds [0-9.]+ to [0-9.]+ %,\\s+falls by [0-9. to]+ % from loop 7 on")
  read <- read_readings(list.files(folder, full.names = TRUE), baseline = "one")
  means <- read[read$metric == "score", ]
  expect_setequal(means$value, vapply(truth, mean, 1))
  expect_setequal(read$value[read$metric == "score, worst loop"], vapply(truth, min, 1))
})
