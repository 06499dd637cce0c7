# Arms judged by how their passes ended: the share that failed, and failures per hour.

#' The difference of two shares, with limits that hold for few passes
#'
#' @param x1,n1 Failures and passes of the arm, `x2`, `n2` of the baseline; `alpha` two-sided.
#' @return A list: `lower`, `upper`.
#' @references Zou and Donner (2008), Statistics in Medicine 27, 1693-1702, with the limits of
#'   Clopper and Pearson (1934).
#' @noRd
share_difference <- function(x1, n1, x2, n2, alpha) {
  join_limits(x1 / n1, share_limits(x1, n1, alpha), x2 / n2, share_limits(x2, n2, alpha))
}

join_limits <- function(p1, one, p2, two) {
  d <- p1 - p2
  new_interval(
    d - sqrt((p1 - one$lower)^2 + (two$upper - p2)^2), d + sqrt((one$upper - p1)^2 + (p2 - two$lower)^2)
  )
}

#' The smallest two-sided level at which the limits of each leave out 0
#'
#' Halved on the level, so that the p value agrees with the interval to the last digit shown.
#' @param limits Function of levels, one a question, that gives `lower` and `upper`. @param n How many questions.
#' @noRd
p_of_limits <- function(limits, n) {
  low <- rep(-30, n)
  high <- rep(0, n)
  for (i in 1:34) {
    middle <- (low + high) / 2
    at <- limits(exp(middle))
    outside <- at$lower > 0 | at$upper < 0
    high[outside] <- middle[outside]
    low[!outside] <- middle[!outside]
  }
  exp(high)
}

#' The ratio of two rates
#'
#' Given how many failures there were in all, those of the arm are binomial with the share of its time.
#' @param x1,t1 Failures and hours of the arm, `x2`, `t2` of the baseline.
#' @references Przyborowski and Wilenski (1940), Biometrika 31, 313-323.
#' @noRd
rate_ratio <- function(x1, t1, x2, t2, alpha) {
  limits <- share_limits(x1, x1 + x2, alpha)
  odds <- function(share) ifelse(share >= 1, Inf, share / (1 - share)) * t2 / t1
  seen <- x1 + x2 > 0
  new_interval(ifelse(seen, odds(limits$lower), 0), ifelse(seen, odds(limits$upper), Inf))
}

#' Chance that the difference of two shares gets an answer
#'
#' Every outcome of both arms that may come, with its probability; those beyond one in 100 000 on
#' either side are left out.
#' @param worth In percent points, `NA` for none.
#' @noRd
chance_of_shares <- function(p1, p2, n1, n2, alpha, worth = NA_real_, words = NULL) {
  seen <- function(p, n) seq(stats::qbinom(1e-5, n, p), stats::qbinom(1 - 1e-5, n, p))
  x1 <- seen(p1, n1)
  x2 <- seen(p2, n2)
  one <- lapply(share_limits(x1, n1, alpha), rep, times = length(x2))
  two <- lapply(share_limits(x2, n2, alpha), rep, each = length(x1))
  at <- join_limits(rep(x1 / n1, length(x2)), one, rep(x2 / n2, each = length(x1)), two)
  settled <- if (is.null(words)) {
    at$lower > 0 | at$upper < 0 | (is.finite(worth) & 100 * at$lower >= -worth & 100 * at$upper <= worth)
  } else {
    verdict_word(100 * at$lower, 100 * at$upper, "lower", worth) %in% words
  }
  sum(outer(stats::dbinom(x1, n1, p1), stats::dbinom(x2, n2, p2))[settled])
}

#' Passes per arm until the share that fails has an answer, the shares taken as they are
#'
#' Those of a fresh batch that is weighed alone; where the passes at hand go on counting, as many more.
#' @return A count, `Inf` where `most` would not be enough.
#' @noRd
passes_to_answer <- function(x1, n1, x2, n2, alpha, worth, goes_on = FALSE, power = 0.8, most = 500) {
  have <- if (goes_on) c(n1, n2) else c(0, 0)
  same <- x1 / n1 == x2 / n2
  if (same && is.na(empty_to(worth, NA))) {
    return(Inf)
  }
  reached <- function(m) chance_of_shares(x1 / n1, x2 / n2, have[1] + m, have[2] + m, alpha, worth) >= power
  high <- 1
  while (!reached(high)) {
    if (high == most) {
      return(Inf)
    }
    high <- min(most, high * 2)
  }
  low <- high %/% 2
  # told as "about", so one in twenty is near enough
  while (high - low > max(1, low %/% 20)) {
    middle <- (low + high) %/% 2
    if (reached(middle)) high <- middle else low <- middle
  }
  high
}

#' Smallest rise of the share of failures that would have been found four times in five
#' @return In percent points; `NA` where even failing always would not be.
#' @noRd
detectable_share <- function(x2, n1, n2, alpha, power = 0.8) {
  p2 <- x2 / n2
  found <- function(p1) chance_of_shares(p1, p2, n1, n2, alpha, words = "loss") >= power
  if (p2 == 1 || !found(1)) {
    return(NA_real_)
  }
  low <- p2
  high <- 1
  while (high - low > 0.002) {
    middle <- (low + high) / 2
    if (found(middle)) high <- middle else low <- middle
  }
  100 * (high - p2)
}

#' Two-sided p value of the ratio of two rates, the level at which its limits touch 1
#' @noRd
rate_p <- function(x1, t1, x2, t2) {
  n <- x1 + x2
  share <- t1 / (t1 + t2)
  pmin(1, 2 * pmin(stats::pbinom(x1, n, share), stats::pbinom(x1 - 1, n, share, lower.tail = FALSE)))
}

#' Passes per arm, as in `passes_to_answer()`, until the ratio of two rates has an answer, the rates and the
#' length of passes taken as they are
#'
#' The logarithm of a ratio of counts has the variance `1 / x1 + 1 / x2`, which falls as passes are added.
#' @param n Passes of the arm that has fewer. @param worth In percent, `NA` for none.
#' @noRd
rates_to_answer <- function(x1, t1, x2, t2, n, alpha, worth, goes_on = FALSE, power = 0.8, most = 500) {
  # nothing seen is taken as half a failure
  effect <- log(pmax(x1, 0.5) / t1 / (pmax(x2, 0.5) / t2))
  band <- ifelse(is.na(worth), 0, log1p(worth / 100))
  # to leave 0 out, or to stay inside the band with both ends
  settle <- function(distance, z) ((z + stats::qnorm(power)) / distance)^2
  differs <- settle(abs(effect), stats::qnorm(1 - alpha / 2))
  same <- ifelse(abs(effect) < band, settle(band - abs(effect), stats::qnorm(1 - alpha / 2)), Inf)
  growth <- pmin(differs, same) * (1 / pmax(x1, 0.5) + 1 / pmax(x2, 0.5))
  more <- pmax(1, ceiling(n * (growth - goes_on)))
  ifelse(x1 + x2 == 0 | more > most, Inf, more)
}
