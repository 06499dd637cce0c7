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

test_that("blocks are weighed as a mixed model with the degrees of freedom of Kenward and Roger", {
  skip_if_not_installed("pbkrtest")
  set.seed(13)
  rows <- data.frame(arm = rep(c("a", "b", "b", "a"), 4), block = rep(1:8, each = 2), order = 1:16)
  rows$value <- exp(rnorm(8, sd = 0.05)[rows$block] + 0.01 * (rows$arm == "b") + rnorm(16, sd = 0.01))
  verdicts <- weigh(rows, baseline = "a")
  with <- lme4::lmer(log(value) ~ arm + (1 | block), rows)
  tested <- pbkrtest::getKR(pbkrtest::KRmodcomp(with, update(with, . ~ . - arm)))
  expect_equal(tested$ddf, 7, tolerance = 1e-6)
  expect_equal(verdicts$p_value, tested$p.value, tolerance = 1e-5)
  # boots that hold one arm each, as many of both
  boots <- data.frame(boot = rep(1:12, each = 3), order = 1:36)
  boots$arm <- ifelse(boots$boot %% 2 == 1, "a", "b")
  boots$value <- exp(rnorm(12, sd = 0.02)[boots$boot] + 0.03 * (boots$arm == "b") + rnorm(36, sd = 0.01))
  apart <- weigh(transform(boots, boot = paste0("s", boot)), baseline = "a")
  with <- lme4::lmer(log(value) ~ arm + (1 | boot), boots)
  tested <- pbkrtest::getKR(pbkrtest::KRmodcomp(with, update(with, . ~ . - arm)))
  # as many boots in both arms: the same error; the model takes both to vary alike, ours asks each for its own
  expect_equal(tested$ddf, 10, tolerance = 1e-6)
  means <- tapply(log(boots$value), boots$boot, mean)
  df <- unname(t.test(means[seq(2, 12, 2)], means[seq(1, 11, 2)])$parameter)
  error <- (log1p(apart$upper / 100) - log1p(apart$change / 100)) / qt(0.975, df)
  expect_equal((log1p(apart$change / 100) / error)^2, tested$Fstat, tolerance = 1e-5)
})

test_that("a worked example of an equivalence test comes out as printed", {
  # Lakens (2017), Social Psychological and Personality Science 8, 355-362: 95 against 89 with 5.25 (0.95) and 5.22
  # (0.83), bounds of 0.43 standard deviations: t = 2.69, p = 0.004
  sample_of <- function(n, mean, sd) mean + sd * as.numeric(scale(seq_len(n)^1.5))
  rows <- data.frame(
    arm = rep(c("control", "treated"), c(95, 89)), metric = "judgement", unit = "points", better = "higher",
    scale = "absolute", value = c(sample_of(95, 5.25, 0.95), sample_of(89, 5.22, 0.83))
  )
  bound <- 0.43 * sqrt((0.95^2 + 0.83^2) / 2)
  equal_at <- function(level) weigh(rows, "control", c(judgement = bound), confidence = 1 - 2 * level)
  found <- equal_at(0.05)
  expect_identical(found$verdict, "negligible")
  error <- (found$upper - found$change) / qt(0.95, t.test(value ~ arm, rows)$parameter)
  expect_equal(round((found$change + bound) / error, 2), 2.69)
  expect_identical(c(equal_at(0.0045)$verdict, equal_at(0.0035)$verdict), c("negligible", "unclear"))
})

# Figures as the publications print them, to their last digit.
test_that("worked examples of publications come out as printed", {
  # Student (1908), hours of sleep by two drugs; Fisher (1925), section 24: 1.58, standard error 0.389, t = 4.06
  sleep <- data.frame(
    arm = rep(c("first", "second"), each = 10), block = rep(1:10, 2), value = datasets::sleep$extra,
    metric = "sleep", unit = "h", better = "higher", scale = "absolute"
  )
  paired <- weigh(sleep, baseline = "first")
  expect_equal(round(paired$change, 2), 1.58)
  expect_equal(round((paired$upper - paired$change) / stats::qt(0.975, 9), 3), 0.389)
  expect_equal(round(stats::qt(1 - paired$p_value / 2, 9), 2), 4.06)
  # Box, Hunter and Hunter (1978), Statistics for Experimenters, wear of shoe soles of two materials: 0.41, standard
  # error 0.12
  shoes <- data.frame(
    arm = rep(c("A", "B"), each = 10), block = rep(1:10, 2), metric = "wear", unit = "mm", better = "lower",
    scale = "absolute", value = c(
      13.2, 8.2, 10.9, 14.3, 10.7, 6.6, 9.5, 10.8, 8.8, 13.3, 14.0, 8.8, 11.2, 14.2, 11.8, 6.4, 9.8, 11.3, 9.3, 13.6
    )
  )
  worn <- weigh(shoes, baseline = "A")
  expect_equal(round(worn$change, 2), 0.41)
  expect_equal(round((worn$upper - worn$change) / stats::qt(0.975, 9), 2), 0.12)
  expect_identical(worn$verdict, "loss")
  # Newcombe (1998), Statistics in Medicine 17, 857-872, table I, method 5: limits of Clopper and Pearson
  shares <- function(x, n) {
    passes <- data.frame(arm = "a", outcome = rep(c("crash", "ok"), c(x, n - x)), seconds = 60)
    unlist(outcome_table(passes)[c("failed_lower", "failed_upper")], use.names = FALSE)
  }
  expect_equal(round(shares(81, 263), 2), c(25.27, 36.76))
  expect_equal(round(shares(15, 148), 2), c(5.78, 16.17))
  expect_equal(round(shares(1, 29), 2), c(0.09, 17.76))
  # Garwood (1936), Biometrika 28, 437-442: of 10 events 4.795 to 18.39
  hour <- outcome_table(data.frame(arm = "a", outcome = rep(c("crash", "ok"), c(10, 26)), seconds = 100))
  expect_equal(round(unlist(hour[c("per_hour_lower", "per_hour_upper")], use.names = FALSE), 2), c(4.80, 18.39))
})

test_that("with a known deviation, looks cost what the bound of Robbins says", {
  # Robbins (1970), Annals of Mathematical Statistics 41, 1397-1409: a sum of n passes m = 1 / spread from none leaves
  # sqrt((n + m) (a^2 + log(n / m + 1))) with a chance of exp(-a^2 / 2) at most
  m <- 1 / honestmargin:::look_spread
  n <- c(2, 5, 17, 400)
  for (wanted in c(20, 600)) {
    bound <- sqrt((n + m) * (2 * log(wanted) + log(n / m + 1)))
    expect_equal(honestmargin:::look_normal(n, wanted), bound / sqrt(n), tolerance = 1e-12)
  }
})

test_that("the standard error in blocks is that of resampled blocks", {
  skip_if_not_installed("boot")
  rows <- blocks_of(c("a", "b"), 12, 43)
  v <- weigh(rows, baseline = "a")
  y <- stats::xtabs(log(value) ~ block + arm, rows)
  set.seed(44)
  drawn <- boot::boot(y[, "b"] - y[, "a"], function(d, at) mean(d[at]), 20000)
  ours <- diff(log1p(c(v$lower, v$upper) / 100)) / 2 / stats::qt(0.975, 11)
  # of blocks drawn with replacement it is smaller by this much; 20 000 draws tell it to one in two hundred
  expect_equal(stats::sd(drawn$t), ours * sqrt(11 / 12), tolerance = 0.025)
  expect_equal(drawn$t0, log1p(v$change / 100), tolerance = 1e-8)
})
