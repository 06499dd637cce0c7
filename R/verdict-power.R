# How likely a design is to reach an answer, and what it takes to get there.

#' Chance that the interval excludes 0, or lies inside the worth band
#'
#' Given the standard error that will be estimated, both events are normal
#' probabilities; the estimated one is averaged over its chi distribution. With
#' no band this is the power of the two-sided t test (noncentral t).
#'
#' @param effect True difference, `se` its true standard error, `crit` the
#'   half-width in estimated standard errors, `error` from `error_nodes()`.
#' @param band Two numbers, the worth band on the scale of analysis; `NULL` for none.
#' @return One probability.
#' @references Johnson, Kotz and Balakrishnan (1995), Continuous Univariate
#'   Distributions 2, chapter 31 (noncentral t); Schuirmann (1987), Journal of
#'   Pharmacokinetics and Biopharmaceutics 15, 657-680 (two one-sided tests).
#' @noRd
chance_of_answer <- function(effect, se, crit, error, band = NULL) {
  band <- if (is.null(band)) c(NA_real_, NA_real_) else band / se
  chance_in_errors(crit * error, effect / se, band[1], band[2])
}

#' Estimated over true standard error, at equally likely points
#' @noRd
error_nodes <- function(df, nodes = 40) {
  p <- (seq_len(nodes) - 0.5) / nodes
  if (df > 2000) {
    return(1)
  }
  # Wilson and Hilferty (1931): off by less than 1e-4 here, and much quicker
  ratio <- if (df > 30) (1 - 2 / (9 * df) + stats::qnorm(p) * sqrt(2 / (9 * df)))^3 else stats::qchisq(p, df) / df
  sqrt(ratio)
}

# of one degree of freedom and level there are many in a study
interval_nodes <- function(df, alpha) {
  key <- sprintf("%.15g %.15g", df, alpha)
  known <- widths[[key]]
  if (is.null(known)) {
    known <- list(crit = stats::qt(1 - alpha / 2, df), error = error_nodes(df))
    assign(key, known, widths)
  }
  known
}

widths <- new.env(parent = emptyenv())

#' Smallest effect found with the wanted power
#' @return On the scale of analysis.
#' @noRd
detectable_effect <- function(se, df, alpha, power = 0.8) {
  if (!is.finite(se) || se <= 0) {
    return(NA_real_)
  }
  # of one degree of freedom and level there are many in a study
  key <- sprintf("%.15g %.15g %.15g", df, alpha, power)
  if (is.null(effects[[key]])) assign(key, effect_in_errors(df, alpha, power), effects)
  se * effects[[key]]
}

effects <- new.env(parent = emptyenv())

# in units of the standard error
effect_in_errors <- function(df, alpha, power) {
  crit <- stats::qt(1 - alpha / 2, df)
  if (crit < 30) {
    gap <- function(effect) stats::pt(crit, df, effect, lower.tail = FALSE) + stats::pt(-crit, df, effect) - power
  } else {
    # R's noncentral t turns into an approximation far out
    error <- error_nodes(df, 500)
    gap <- function(effect) chance_of_answer(effect, 1, crit, error) - power
  }
  stats::uniroot(gap, c(crit / 2, 3 * crit + 4), tol = 1e-3, extendInt = "upX")$root
}

# a number that does not reach and one that does, from a guess on; both are near a good one
bracket_units <- function(guess, reached, most) {
  high <- guess
  low <- 0
  if (high <= most && reached(high)) {
    while (high > 1 && low == 0) {
      nearer <- max(1, floor(high * 0.7))
      if (reached(nearer)) high <- nearer else low <- nearer
    }
    return(c(low, high))
  }
  while (high <= most) {
    low <- high
    high <- ceiling(high * 1.5)
    if (reached(high)) {
      return(c(low, high))
    }
  }
  c(low, Inf)
}

# the number that a normal quantile would give: where the search begins
likely_units <- function(estimate, now, alpha, band, power) {
  distance <- max(abs(estimate), if (!is.null(band)) min(estimate - band[1], band[2] - estimate))
  wanted <- (stats::qnorm(1 - alpha / 2) + stats::qnorm(power)) * now$se / distance
  min(max(1, ceiling((now$df + 1) * (wanted^2 - 1))), 1e9)
}

#' Further units per arm until an answer other than `unclear`
#'
#' Searched on the chance itself with the estimate taken as true; the chance
#' rises with the number of units except for steps that do not matter here.
#' @noRd
units_to_answer <- function(estimate, grow, alpha, band = NULL, power = 0.8, most = 1e7) {
  reached <- function(m) {
    at <- grow(m)
    width <- interval_nodes(at$df, alpha)
    chance_of_answer(estimate, at$se, width$crit, width$error, band) >= power
  }
  # no effect without a band, or passes that do not differ at all (rounded away)
  if ((estimate == 0 && is.null(band)) || grow(1)$se == 0) {
    return(Inf)
  }
  bracket <- bracket_units(likely_units(estimate, grow(0), alpha, band, power), reached, most)
  low <- bracket[1]
  high <- bracket[2]
  if (!is.finite(high)) {
    return(Inf)
  }
  while (high - low > 1) {
    middle <- (low + high) %/% 2
    if (reached(middle)) high <- middle else low <- middle
  }
  high
}
