# Simulated studies through the public weigh(). The full table is `make calibrate`;
# here a share that is far off would show. Bounds are three Monte Carlo errors wide.
share <- function(studies, make, hit, ...) {
  set.seed(31)
  mean(replicate(studies, hit(weigh(make(), baseline = "a", ...))))
}
blocked <- function(blocks, sd, effect = 0, arms = c("a", "b", "c")) {
  rows <- do.call(rbind, lapply(seq_len(blocks), function(b) data.frame(block = b, arm = sample(arms))))
  rows$order <- seq_len(nrow(rows))
  rows$value <- 100 * exp(rnorm(blocks, sd = 0.03)[rows$block] + rnorm(
    nrow(rows),
    sd = sd[match(rows$arm, arms)]
  ) + effect * (rows$arm != "a"))
  rows
}

test_that("when nothing differs, 'differs' is rare over the whole family", {
  n <- simulated(200)
  expect_lte(
    share(n, function() blocked(5, c(0.01, 0.01, 0.01)), function(v) any(v$differs %in% "yes")), at_most(0.05, n)
  )
  expect_lte(
    share(n, function() blocked(5, c(0.03, 0.01, 0.01)), function(v) any(v$differs %in% "yes")), at_most(0.05, n)
  )
  sessions <- function() data.frame(arm = sample(rep(c("a", "b"), c(3, 10))), value = 100 * exp(rnorm(13, sd = 0.01)))
  expect_lte(share(n, sessions, function(v) v$differs %in% "yes"), at_most(0.05, n))
})

test_that("passes inside a boot are not taken for repetitions", {
  n <- simulated(200)
  boots <- function() {
    rows <- expand.grid(pass_in = 1:4, boot = 1:3, arm = c("a", "b"), stringsAsFactors = FALSE)
    rows$boot <- paste(rows$arm, rows$boot)
    rows$value <- 100 * exp(rnorm(6, sd = 0.02)[match(rows$boot, unique(rows$boot))] + rnorm(24, sd = 0.002))
    rows[c("arm", "boot", "value")]
  }
  expect_lte(share(n, boots, function(v) v$differs %in% "yes"), at_most(0.05, n))
  # the wrong way, which the unit of replication is there to prevent
  wrong <- function() boots()[c("arm", "value")]
  expect_gt(share(n, wrong, function(v) v$differs %in% "yes"), 0.2)
})

test_that("long stints are what is replicated, not the passes in them", {
  n <- simulated(200)
  stints <- function() {
    rows <- data.frame(arm = rep(rep(c("a", "b"), each = 5), 3), order = 1:30)
    rows$value <- 100 * exp(rep(rnorm(6, sd = 0.01), each = 5) + rnorm(30, sd = 0.003))
    rows
  }
  expect_identical(weigh(stints(), baseline = "a")$unit_of_replication, "stint")
  expect_lte(share(n, stints, function(v) v$differs %in% "yes"), at_most(0.05, n))
  unordered <- function() stints()[c("arm", "value")]
  expect_gt(share(n, unordered, function(v) v$differs %in% "yes"), 0.15)
})

test_that("blocks that hold one arm each are no help where one arm ran before the other", {
  rows <- data.frame(
    arm = rep(c("a", "b"), each = 6), block = rep(1:6, each = 2), order = 1:12, value = 100 + c(1:12 %% 3)
  )
  expect_identical(weigh(rows, baseline = "a")$verdict, "no basis")
  mixed <- transform(rows, order = c(1, 2, 5, 6, 9, 10, 3, 4, 7, 8, 11, 12))
  v <- weigh(mixed, baseline = "a")
  expect_identical(v$unit_of_replication, "block")
  # the same by hand: Welch's t on the means of the blocks, six units in all
  means <- tapply(log(mixed$value), mixed$block, mean)
  expect_equal(v$change, 100 * (exp(mean(means[4:6]) - mean(means[1:3])) - 1))
})

test_that("a real difference is found, its interval holds it, and negligible is earned", {
  n <- simulated(200)
  some <- function() blocked(8, c(0.01, 0.01), log(1.03), c("a", "b"))
  expect_gt(share(n, some, function(v) v$differs %in% "yes"), 0.9)
  expect_gte(share(n, some, function(v) v$lower <= 3 && 3 <= v$upper), 1 - at_most(0.05, n))
  edge <- function() blocked(8, c(0.01, 0.01), log(1.02), c("a", "b"))
  expect_lte(share(n, edge, function(v) v$verdict == "negligible", worth = 2), at_most(0.05, n))
})
