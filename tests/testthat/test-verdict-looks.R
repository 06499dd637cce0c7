# Intervals that hold however often one looks.
e_value <- honestmargin:::e_value

test_that("the e-value is the ratio of the mixture over effects to none, by numbers", {
  # effects in standard deviations drawn with variance 2, each a noncentral t; what R warns of its tails does not matter
  for (n in c(4, 12)) {
    for (t in c(0.5, 3)) {
      of_effect <- function(d) suppressWarnings(dt(t, n - 1, ncp = d * sqrt(n))) * dnorm(d, sd = sqrt(2))
      mixed <- integrate(of_effect, -8, 8, rel.tol = 1e-5)
      expect_equal(e_value(t, n), mixed$value / dt(t, n - 1), tolerance = 1e-4)
    }
  }
})

test_that("the interval ends where the evidence reaches that of the family", {
  set.seed(5)
  rows <- data.frame(arm = c("a", "b", "c"), block = rep(1:9, each = 3))
  rows$value <- 100 * exp(rnorm(27, sd = 0.01))
  v <- weigh(rows, baseline = "a", looks = TRUE)
  for (arm in c("b", "c")) {
    d <- log(rows$value[rows$arm == arm] / rows$value[rows$arm == "a"])
    row <- v[v$arm == arm, ]
    for (end in c(row$lower, row$upper)) {
      t <- (mean(d) - log1p(end / 100)) / (sd(d) / 3)
      expect_equal(e_value(t, 9), 20 * 2, tolerance = 1e-6)
    }
    expect_equal(row$p_value, min(1, 1 / e_value(mean(d) / (sd(d) / 3), 9)))
    expect_equal(row$p_adjusted, min(1, 2 * row$p_value))
  }
  expect_match(paste(findings(v)$message, collapse = " "), "valid at any look")
  few <- weigh(rows[rows$block < 4, ], baseline = "a", looks = TRUE)
  expect_identical(unique(few$verdict), "no basis")
  expect_match(few$reason[1], "nothing can be settled before number 5 of them; there are 3")
})

test_that("looking after every block up to 40 calls few studies different, a t test many", {
  studies <- 1500
  n <- 2:40
  draws <- list(rnorm, function(k) rt(k, 3), function(k) rnorm(k) - 10 * (runif(k) < 0.05))
  set.seed(6)
  for (draw in draws) {
    d <- matrix(draw(40 * studies) - draw(40 * studies), 40)
    sum1 <- apply(d, 2, cumsum)[n, ]
    sum2 <- apply(d^2, 2, cumsum)[n, ]
    t <- sum1 / n / sqrt((sum2 - sum1^2 / n) / (n - 1) / n)
    ever <- mean(apply(e_value(t, n) >= 20, 2, any))
    expect_lte(ever, 0.05)
    expect_gt(mean(apply(2 * pt(-abs(t), n - 1) < 0.05, 2, any)), 0.15)
  }
})

test_that("a session is followed by its pairs, boots by theirs, and one stint by nothing", {
  set.seed(7)
  rows <- data.frame(arm = sample(rep(c("a", "b"), c(9, 12))), order = 1:21)
  rows$value <- 100 * exp(rnorm(21, sd = 0.01))
  v <- weigh(rows, baseline = "a", looks = TRUE)
  d <- log(rows$value[rows$arm == "b"][1:9] / rows$value[rows$arm == "a"])
  expect_equal(v$change, 100 * expm1(mean(d)))
  rows <- rows[order(rows$arm), ]
  rows$order <- 1:21
  expect_identical(weigh(rows, baseline = "a", looks = TRUE, steady = TRUE)$verdict, "no basis")
})

test_that("failures that are looked at after every pass spend their level", {
  rows <- data.frame(arm = rep(c("a", "b"), 6), outcome = "ok")
  rows$outcome[c(2, 4, 6, 8, 10, 12)] <- "crash"
  once <- weigh(rows, baseline = "a", primary = "failed")
  often <- weigh(rows, baseline = "a", primary = "failed", looks = TRUE)
  at <- weigh(rows, baseline = "a", primary = "failed", confidence = 1 - 0.05 / 42)
  expect_equal(often$lower, at$lower, tolerance = 1e-8)
  expect_lt(often$lower, once$lower)
})

test_that("under looks the adjusted p value agrees with the interval, whatever widened that", {
  set.seed(21)
  for (i in 1:60) {
    rows <- data.frame(arm = rep(c("a", "b", "c"), 8), block = rep(1:8, each = 3), order = 1:24)
    rows$value <- round(100 + rnorm(24) + 1.4 * (rows$arm == "b"))
    v <- weigh(rows, baseline = "a", looks = TRUE)
    known <- !is.na(v$p_adjusted) & !is.na(v$differs)
    expect_identical(v$p_adjusted[known] < 0.05, v$differs[known] == "yes")
    ended <- data.frame(arm = rep(c("a", "b"), 12), outcome = ifelse(runif(24) < rep(c(0.1, 0.9), 12), "crash", "ok"))
    o <- weigh(ended, baseline = "a", looks = TRUE, primary = "failed")
    expect_identical(o$p_adjusted < 0.05, o$differs == "yes")
  }
})
