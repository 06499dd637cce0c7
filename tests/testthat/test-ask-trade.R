capped <- function(seed = 4) {
  set.seed(seed)
  rows <- do.call(rbind, lapply(1:6, function(b) data.frame(cap = sample(c("none", "90", "60")), block = b)))
  rows$order <- seq_len(nrow(rows))
  rows$fps <- round(c(none = 118, `90` = 90, `60` = 60)[rows$cap] * exp(rnorm(18, sd = 0.004)), 2)
  rows$`power draw (W)` <- round(c(none = 310, `90` = 240, `60` = 170)[rows$cap] * exp(rnorm(18, sd = 0.01)))
  rows$outcome <- ifelse(rows$cap == "none" & rows$block %in% c(2, 4), "crash", "ok")
  rows[rows$outcome == "crash", c("fps", "power draw (W)")] <- NA
  rows
}

test_that("what a cap gives up and what it brings stand in one table, failures with their counts", {
  readings <- read_readings(capped(), baseline = "none", columns = c(arm = "cap"))
  found <- as.data.frame(weigh_trade(readings, baseline = "none", worth = 2, setting_limits = TRUE))
  sixty <- found[found$arm == "60", ]
  expect_identical(sixty$side[sixty$metric == "fps"], "gives up")
  expect_identical(sixty$side[sixty$metric == "power draw"], "brings")
  failed <- sixty[sixty$metric == "failed", ]
  expect_equal(c(failed$baseline_value, failed$arm_value), c(100 * 2 / 6, 0))
  # the truth lies in what is said of it
  fps <- sixty[sixty$metric == "fps", ]
  expect_true(fps$lower < 100 * (60 / 118 - 1) && 100 * (60 / 118 - 1) < fps$upper)
  path <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(capped(), path, row.names = FALSE, na = "")
  said <- run_cli("ask", path, "trade", "-b", "none", "-w", "2", "--columns", "arm=cap", "--setting-limits")$stdout
  expect_match(said, "60 gives up fps -49[.0-9]* %; brings power draw -4[0-9.]+ %")
  expect_match(said, "failed passes[[:space:]]+33.3 -> 0 %")
})

test_that("an arm that a limiter hides is told with what to say", {
  study <- demo_study()
  expect_match(run_cli("ask", study, "trade")$stdout, "--setting-limits")
})
