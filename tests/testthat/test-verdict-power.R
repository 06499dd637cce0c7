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
  # of pairs that differ by 0.01 with a standard deviation of 0.02, and of others, all at once
  effect <- c(0.01, 0.002, 0.06, 0, 1e-6)
  more <- function(..., se = rep(0.02 / sqrt(5), 5)) {
    found <- honestmargin:::new_estimate(
      estimate = effect, se = se, units = rep(5, 5), each = rep(0.02^2, 5), df_fixed = -1,
      df_each = 1, ...
    )
    honestmargin:::units_to_answer(lapply(found, rep_len, 5), rep(0.05, 5), matrix(NA_real_, 5, 2))
  }
  n <- more()
  reached <- function(n, effect) chance(effect, 0.02 / sqrt(n), qt(0.975, n - 1), nodes(n - 1)) >= 0.8
  for (i in 1:3) {
    expect_true(reached(n[i], effect[i]))
    expect_false(reached(n[i] - 1, effect[i]))
  }
  # R's own calculation of the paired t test
  expect_equal(n[2], ceiling(power.t.test(delta = 0.002, sd = 0.02, power = 0.8, type = "paired")$n), tolerance = 0.002)
  # no effect at all, and one that a hundred thousand would not show
  expect_identical(n[4:5], c(Inf, Inf))
  # however far off the passes at hand would have it (this came out as endless)
  expect_identical(more(se = rep(2, 5))[1:2], n[1:2])
  # where units are added to those at hand, so many more
  expect_equal(more(have = 5)[1:2], n[1:2] - 5)
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
  # a row that cannot be told takes nothing from others like it
  alike <- honestmargin:::detectable_effect(c(0, 2), c(3, 3), c(2, 2))
  expect_true(is.na(alike[1]) && alike[2] > 0)
  # far out R's is off by up to 5 %, and so was ours between 29 and 30 errors
  expect_equal(power(honestmargin:::detectable_effect(1, 1.2, 29.9), 1.2, 29.9), 0.8, tolerance = 0.002)
  # degrees of freedom that are not whole
  for (df in c(2.3, 7.77, 21.1)) for (level in c(0.05, 1e-4)) {
    crit <- qt(1 - level / 2, df)
    expect_equal(power(honestmargin:::detectable_effect(1, df, crit), df, crit), 0.8, tolerance = 0.002)
  }
  for (df in c(1, 3, 12)) {
    effect <- honestmargin:::detectable_effect(2, df, qt(0.995, df))
    expect_equal(power(effect / 2, df, qt(0.995, df)), 0.8, tolerance = 0.005)
  }
})
