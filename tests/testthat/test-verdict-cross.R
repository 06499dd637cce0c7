# Held against other people's implementations; designs are balanced, where these must agree.

blocks_of <- function(arms, blocks, seed) {
  set.seed(seed)
  rows <- expand.grid(arm = arms, block = seq_len(blocks), stringsAsFactors = FALSE)
  rows <- rows[unlist(lapply(split(seq_len(nrow(rows)), rows$block), sample)), ]
  rows$order <- seq_len(nrow(rows))
  rows$value <- 100 * exp(stats::rnorm(blocks, sd = 0.02)[rows$block] + 0.01 * match(rows$arm, arms) +
    stats::rnorm(nrow(rows), sd = 0.01))
  rows
}

test_that("changes of all pairs are those of Tukey's differences, and of a model with blocks", {
  rows <- blocks_of(c("a", "b", "c", "d"), 6, 41)
  verdicts <- weigh(rows, baseline = "a", worth = 2, against = "all")
  fit <- stats::aov(log(value) ~ factor(block) + arm, rows)
  tukey <- stats::TukeyHSD(fit, "arm")$arm[, "diff"]
  # Tukey's go from the earlier letter to the later
  theirs <- c(tukey, stats::setNames(-tukey, sub("(.)-(.)", "\\2-\\1", names(tukey))))
  expect_equal(
    log1p(verdicts$change / 100), unname(theirs[paste(verdicts$arm, verdicts$baseline, sep = "-")]),
    tolerance = 1e-8
  )
})

test_that("the critical value of a family is never below the exact one of the multivariate t, and hardly above", {
  skip_if_not_installed("mvtnorm")
  for (arms in 3:5) {
    rows <- blocks_of(letters[seq_len(arms)], 8, arms)
    verdicts <- weigh(rows, baseline = "a", worth = 2)
    contrasts <- arms - 1
    # half the width over its standard error, which p_value and change give
    half <- (log1p(verdicts$upper / 100) - log1p(verdicts$lower / 100)) / 2
    for (i in seq_len(contrasts)) {
      # its degrees of freedom are those at which the width and the p value belong together
      sidak <- function(df) stats::qt(1 - (1 - 0.95^(1 / contrasts)) / 2, df)
      p_at <- function(df) 2 * stats::pt(-abs(log1p(verdicts$change[i] / 100)) * sidak(df) / half[i], df)
      df <- stats::uniroot(function(df) p_at(df) - verdicts$p_value[i], c(2, 60), extendInt = "yes")$root
      set.seed(1)
      # of whole degrees only: more of them make it smaller
      exact <- mvtnorm::qmvt(0.95,
        tail = "both.tails", df = ceiling(df), corr = 0.5 * diag(contrasts) + 0.5
      )$quantile
      expect_gte(sidak(df), exact - 1e-3)
      expect_lte(sidak(df), 1.1 * exact)
    }
  }
})

test_that("boots are weighed as a mixed model with boots would be", {
  skip_if_not_installed("lme4")
  set.seed(12)
  boot <- rep(1:10, each = 4)
  rows <- data.frame(
    arm = ifelse(boot %% 2 == 1, "a", "b"), boot = paste0("s", boot), order = seq_along(boot),
    value = 500 + 10 * (boot %% 2 == 0) + stats::rnorm(10, sd = 6)[boot] + stats::rnorm(40, sd = 3)
  )
  rows$metric <- "drift"
  rows$unit <- "C"
  rows$better <- "lower"
  rows$scale <- "absolute"
  verdicts <- weigh(rows, baseline = "a", worth = 5)
  expect_identical(verdicts$unit_of_replication, "boot")
  fit <- lme4::lmer(value ~ arm + (1 | boot), rows)
  expect_equal(verdicts$change, unname(lme4::fixef(fit)["armb"]), tolerance = 1e-8)
  error <- sqrt(as.matrix(stats::vcov(fit))[2, 2])
  means <- tapply(rows$value, rows$boot, mean)
  df <- unname(stats::t.test(means[paste0("s", seq(2, 10, 2))], means[paste0("s", seq(1, 9, 2))])$parameter)
  # 1e-6: the model is fitted by iteration
  expect_equal((verdicts$upper - verdicts$lower) / 2, error * stats::qt(0.975, df), tolerance = 1e-5)
  between <- honestmargin:::noise_of_boots(rows$value, rows$arm, rows$boot)
  expect_equal(between[["sd"]], as.data.frame(lme4::VarCorr(fit))$sdcor[1], tolerance = 1e-4)
})
