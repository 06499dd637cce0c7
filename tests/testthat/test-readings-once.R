# a table as somebody keeps it, in rounds of two arms
kept <- function(seed, n = 6, sd = 1, digits = 1) {
  withr::with_seed(seed, data.frame(
    arm = rep(c("off", "on"), n), value = round(100 + rep(c(0, 3), n) + rnorm(2 * n, sd = sd), digits)
  ))
}
weighed_once <- function(table) weigh(table, baseline = "off", worth = 1)
is_found <- function(table) "repeated" %in% findings(weighed_once(table))$check
numbers <- c("change", "lower", "upper", "n_arm", "n_baseline", "verdict")

test_that("rows that were taken twice count once, in whatever way they came in twice", {
  table <- kept(1)
  expect_false(is_found(table))
  truth <- as.data.frame(weighed_once(table))[numbers]
  again <- list(
    after_itself = rbind(table, table), three_times = rbind(table, table, table),
    by_arm = rbind(table, table)[order(rep(table$arm, 2)), ]
  )
  for (twice in again) {
    verdicts <- weighed_once(twice)
    expect_identical(as.data.frame(verdicts)[numbers], truth)
    expect_true(is_found(twice))
  }
  # joined with a table that holds it and more
  more <- as.data.frame(weighed_once(rbind(table, kept(2))))[numbers]
  expect_identical(as.data.frame(weighed_once(rbind(table, table, kept(2))))[numbers], more)
  rows <- c("arm,score", paste(table$arm, table$value, sep = ","))
  file <- write_lines(rows, rows)
  said <- run_cli("weigh", file, "--baseline", "off", "--worth", "1")$stdout
  said <- gsub("\\s+", " ", said)
  expect_match(said, "passes 13, 14, .* have the numbers of 1, 2, .*: rows that were taken twice count once")
  # nor does it help to ask for what was excluded
  asked <- run_cli("weigh", file, "--baseline", "off", "--worth", "1", "--with-excluded", "--format", "json")$stdout
  expect_equal(jsonlite::fromJSON(asked)$verdicts$n_arm, 6)
  expect_setequal(jsonlite::fromJSON(asked)$left_out$role, "copy")
})

test_that("only the rows of the place that came in twice are set aside", {
  # ids that come again in each workload, as runs are numbered
  here <- rbind(kept(1), kept(1))
  table <- rbind(cbind(here, workload = "lake"), cbind(rbind(kept(4), kept(5)), workload = "town"))
  table$pass <- as.character(rep(seq_len(nrow(here)), 2))
  verdicts <- weighed_once(table)
  expect_identical(verdicts$n_arm[verdicts$workload == "lake"], 6L)
  expect_identical(verdicts$n_arm[verdicts$workload == "town"], 12L)
})

test_that("of several metrics all have to be alike", {
  wide <- data.frame(arm = kept(1)$arm, fps_avg = kept(1)$value, low1_mean = kept(3)$value)
  both <- rbind(wide, wide)
  found <- function(table) "repeated" %in% findings(weigh(table, baseline = "off"))$check
  expect_true(found(both))
  both$low1_mean <- both$low1_mean + round(seq(-1, 1, length.out = 24), 1)
  expect_false(found(both))
})

test_that("passes that are alike by chance, or by nature, are not suspected", {
  of_arms <- function(seed, draw) withr::with_seed(seed, data.frame(arm = rep(c("off", "on"), 10), value = draw(20)))
  coarse <- list(
    whole = function(seed) kept(seed, 10, digits = 0),
    capped = function(seed) transform(kept(seed, 10), value = pmin(value, 100)),
    two_levels = function(seed) of_arms(seed, function(n) sample(c(50, 100), n, TRUE)),
    steady = function(seed) of_arms(seed, function(n) rep(c(60, 59.9), n / 2))
  )
  runs <- simulated(60)
  for (made in coarse) {
    expect_lte(sum(vapply(seq_len(runs), function(seed) is_found(made(seed)), NA)), 1)
  }
})
