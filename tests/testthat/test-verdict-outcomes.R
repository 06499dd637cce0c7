# Judging by how passes end. Limits are held against base R's exact tests, false rates
# against every outcome that may come, not against simulations.
ended <- function(failed, of, arm, seconds = NA, ...) {
  data.frame(arm = arm, outcome = rep(c("crash", "ok"), c(failed, of - failed)), seconds = seconds, ...)
}
only <- function(v, id = "failed") v[v$metric == id, ]

test_that("limits of one arm are those of the exact tests", {
  table <- outcome_table(rbind(ended(0, 5, "a", 600), ended(2, 7, "b", 300)))
  # none in n leaves 1 - 0.05^(1/n), none in T hours 3.0 / T
  expect_equal(table$failed_upper[1], 100 * (1 - 0.05^(1 / 5)))
  expect_equal(table$per_hour_upper[1], -log(0.05) / (5 * 600 / 3600))
  expect_equal(c(table$failed_lower[2], table$failed_upper[2]), 100 * as.numeric(binom.test(2, 7)$conf.int))
  expect_equal(
    c(table$per_hour_lower[2], table$per_hour_upper[2]), as.numeric(poisson.test(2, 7 * 300 / 3600)$conf.int)
  )
})

test_that("the difference of two shares joins exact limits as Zou and Donner do", {
  v <- only(weigh(rbind(ended(6, 8, "b"), ended(1, 9, "a")), baseline = "a"))
  one <- as.numeric(binom.test(6, 8)$conf.int)
  two <- as.numeric(binom.test(1, 9)$conf.int)
  d <- 6 / 8 - 1 / 9
  expect_equal(v$lower, 100 * (d - sqrt((6 / 8 - one[1])^2 + (two[2] - 1 / 9)^2)))
  expect_equal(v$upper, 100 * (d + sqrt((one[2] - 6 / 8)^2 + (1 / 9 - two[1])^2)))
  expect_identical(v$differs == "yes", v$p_value < 0.05)
  expect_match(v$reason, "6 of 8 passes of b failed, 1 of 9 of a")
})

test_that("the ratio of two rates is that of the exact test", {
  rows <- rbind(ended(7, 10, "b", 1800), ended(2, 10, "a", 3600))
  v <- only(weigh(rows, baseline = "a", primary = "failures_per_hour"), "failures_per_hour")
  exact <- poisson.test(c(7, 2), c(10 * 1800, 10 * 3600) / 3600)
  expect_equal(c(v$lower, v$upper), 100 * (as.numeric(exact$conf.int) - 1))
  expect_equal(v$change, 100 * (unname(exact$estimate) - 1))
  none <- only(weigh(
    rbind(ended(3, 6, "b", 1800), ended(0, 6, "a", 3600)),
    baseline = "a", primary = "failures_per_hour"
  ), "failures_per_hour")
  expect_identical(none$upper, Inf)
  expect_match(sentences(none, by = "verdict"), "or more", fixed = TRUE)
})

test_that("when nothing differs, 'differs' is rare whatever the share; exactly, over all that may come", {
  verdict_of <- function(n) {
    outer(0:n, 0:n, Vectorize(function(x1, x2) {
      only(weigh(rbind(ended(x1, n, "b"), ended(x2, n, "a")), baseline = "a", primary = "failed"))$differs %in% "yes"
    }))
  }
  for (n in c(3, 5, 8)) {
    differs <- verdict_of(n)
    false <- vapply(seq(0.02, 0.98, 0.04), function(p) sum(outer(dbinom(0:n, n, p), dbinom(0:n, n, p))[differs]), 1)
    expect_lte(max(false), 0.05)
  }
})

test_that("failures that share a boot are counted by the boot", {
  rows <- data.frame(
    arm = rep(c("a", "b"), each = 12), boot = rep(paste0("s", 1:6), each = 4),
    order = c(1:4, 9:12, 17:20, 5:8, 13:16, 21:24),
    outcome = ifelse(rep(paste0("s", 1:6), each = 4) == "s4", "crash", "ok")
  )
  v <- only(weigh(rows, baseline = "a", primary = "failed"))
  # passes alone would say 4 of 12 against 0 of 12
  expect_identical(v$unit_of_replication, "boot")
  expect_equal(v$change, 100 / 3)
  expect_match(v$reason, "boots with a failure (1 of 3, 0 of 3)", fixed = TRUE)
  one_boot <- transform(rows, boot = arm)
  expect_identical(only(weigh(one_boot, baseline = "a", primary = "failed"))$verdict, "no basis")
})

test_that("one arm before the other is no basis, but that an arm never held is an answer", {
  rows <- rbind(ended(0, 4, "a"), ended(1, 4, "b"), ended(4, 4, "c"))
  rows$order <- seq_len(nrow(rows))
  v <- only(weigh(rows, baseline = "a"))
  expect_identical(v$verdict, c("no basis", "does not hold"))
  expect_match(sentences(v), "c does not hold: 4 of 4 passes failed", fixed = TRUE)
})

test_that("the passes asked for settle it about as often as promised", {
  p <- c(0.6, 0.2)
  found <- only(weigh(rbind(ended(6, 10, "b"), ended(2, 10, "a")), baseline = "a", primary = "failed"))
  expect_identical(found$verdict, "unclear")
  n <- found$more_passes
  limits <- lapply(0:n, function(x) as.numeric(binom.test(x, n)$conf.int))
  excludes <- outer(0:n, 0:n, Vectorize(function(x1, x2) {
    one <- limits[[x1 + 1]]
    two <- limits[[x2 + 1]]
    d <- (x1 - x2) / n
    d - sqrt((x1 / n - one[1])^2 + (two[2] - x2 / n)^2) > 0 || d + sqrt((one[2] - x1 / n)^2 + (x2 / n - two[1])^2) < 0
  }))
  reached <- sum(outer(dbinom(0:n, n, p[1]), dbinom(0:n, n, p[2]))[excludes])
  expect_gte(reached, 0.78)
  expect_lte(reached, 0.87)
})
