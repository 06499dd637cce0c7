chance <- honestmargin:::chance_of_answer
nodes <- honestmargin:::error_nodes

test_that("without a band the chance is the power of the t test", {
  for (df in c(2, 4, 9, 30, 200)) {
    for (effect in c(0.5, 2, 4)) {
      crit <- qt(0.975, df)
      exact <- pt(crit, df, effect, lower.tail = FALSE) + pt(-crit, df, effect)
      expect_lt(abs(chance(effect, 1, crit, nodes(df)) - exact), 0.005)
    }
  }
})

test_that("with a band the chance is what simulated studies do", {
  set.seed(11)
  n <- 8
  band <- c(log(0.98), log(1.02))
  for (truth in c(0, 0.01, 0.04)) {
    answered <- replicate(4000, {
      d <- rnorm(n, truth, 0.015)
      half <- qt(0.975, n - 1) * sd(d) / sqrt(n)
      l <- mean(d) - half
      u <- mean(d) + half
      l > 0 || u < 0 || (band[1] <= l && u <= band[2])
    })
    expect_equal(
      chance(truth, 0.015 / sqrt(n), qt(0.975, n - 1), nodes(n - 1), band), mean(answered),
      tolerance = 0.05
    )
  }
})

test_that("the number of units is the smallest that does", {
  at_size <- function(n) list(se = 0.02 / sqrt(n), df = n - 1)
  found <- list(estimate = 0.01, se = 0.02 / sqrt(5), units = 5, at_size = at_size)
  reached <- function(n) chance(0.01, at_size(n)$se, qt(0.975, n - 1), nodes(n - 1)) >= 0.8
  n <- honestmargin:::units_to_answer(found, 0.05)
  expect_true(reached(n))
  expect_false(reached(n - 1))
  # where units are added to those at hand, so many more
  expect_equal(honestmargin:::units_to_answer(c(found, have = 5), 0.05), n - 5)
  found$estimate <- 0
  expect_identical(honestmargin:::units_to_answer(found, 0.05), Inf)
})

test_that("the smallest detectable effect has the wanted power", {
  # R's own noncentral t is an approximation far out, so the chance is integrated here
  power <- function(delta, df, crit) {
    of <- function(s) {
      both <- pnorm(crit * s, delta, lower.tail = FALSE) + pnorm(-crit * s, delta)
      both * 2 * s * df * dchisq(df * s^2, df)
    }
    integrate(of, 0, Inf, rel.tol = 1e-8, subdivisions = 1000)$value
  }
  for (df in c(1, 3, 12)) {
    effect <- honestmargin:::detectable_effect(2, df, 0.01)
    expect_equal(power(effect / 2, df, qt(0.995, df)), 0.8, tolerance = 0.005)
  }
})
