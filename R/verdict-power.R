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
#' @param crit Half-width in standard errors, `NULL` for the t quantile.
#' @return On the scale of analysis.
#' @noRd
detectable_effect <- function(se, df, alpha, power = 0.8, crit = NULL) {
  if (!is.finite(se) || se <= 0) {
    return(NA_real_)
  }
  # of one degree of freedom and level there are many in a study
  if (is.null(crit)) crit <- stats::qt(1 - alpha / 2, df)
  key <- sprintf("%.15g %.15g %.15g", df, crit, power)
  if (is.null(effects[[key]])) assign(key, effect_in_errors(df, crit, power), effects)
  se * effects[[key]]
}

effects <- new.env(parent = emptyenv())

# in units of the standard error
effect_in_errors <- function(df, crit, power) {
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
bracket_units <- function(guess, reached, most, least) {
  high <- guess
  low <- least - 1
  if (high <= most && reached(high)) {
    while (high > least && low < least) {
      nearer <- max(least, floor(high * 0.7))
      if (reached(nearer)) high <- nearer else low <- nearer
    }
    return(c(low, high))
  }
  while (high <= most) {
    low <- high
    high <- high * 3
    if (reached(high)) {
      return(c(low, high))
    }
  }
  c(low, Inf)
}

# the number that a normal quantile would give: where the search begins
likely_units <- function(found, alpha, band, power) {
  distance <- max(abs(found$estimate), if (!is.null(band)) min(found$estimate - band[1], band[2] - found$estimate))
  wanted <- (stats::qnorm(1 - alpha / 2) + stats::qnorm(power)) * found$se / distance
  min(ceiling(found$units * wanted^2), 1e9)
}

#' Chance that `n` units per arm give an answer, with the estimate taken as true
#'
#' Where the units at hand go on counting, only what the further ones bring is still open.
#' @noRd
chance_at_size <- function(n, found, alpha, band = NULL) {
  at <- found$at_size(n)
  if (at$df < 0.5) {
    return(0)
  }
  width <- interval_nodes(at$df, alpha)
  crit <- if (is.null(at$crit)) width$crit else at$crit
  if (!is.finite(crit)) {
    return(0)
  }
  open <- empty_to(at$moves, 1)
  chance_of_answer(found$estimate, at$se * open, crit / open, width$error, band)
}

#' Is there next to no chance left that a study settles within the units it may come to?
#' @noRd
is_hopeless <- function(found, alpha, band) {
  length(found$most) && found$units < found$most && chance_at_size(found$most, found, alpha, band) < 0.05
}

#' Units per arm until an answer other than `unclear`
#'
#' Those of a fresh batch that is weighed alone; where the units at hand go on counting, as many more. Searched on the
#' chance itself; the chance rises with the number of units except for steps that do not matter here.
#' @param found From `estimate()`: `estimate`, `se`, `units`, `at_size(n)`, and `have` where units go on counting.
#' @noRd
units_to_answer <- function(found, alpha, band = NULL, power = 0.8, most = 1e5) {
  have <- empty_to(found$have, 0)
  least <- max(2, have + 1)
  # no effect without a band, or passes that do not differ at all (rounded away)
  if ((found$estimate == 0 && is.null(band)) || found$at_size(least)$se == 0) {
    return(Inf)
  }
  reached <- function(n) chance_at_size(n, found, alpha, band) >= power
  guess <- max(least, likely_units(found, alpha, band, power))
  bracket <- bracket_units(guess, reached, most, least)
  low <- bracket[1]
  high <- bracket[2]
  if (!is.finite(high)) {
    return(Inf)
  }
  while (high - low > 1) {
    middle <- (low + high) %/% 2
    if (reached(middle)) high <- middle else low <- middle
  }
  high - have
}
