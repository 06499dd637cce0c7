# Somebody else's pair of numbers: how quiet must their passes have been for the gap to stand?

#' The numbers of `weigh_claims()`
#' @noRd
claim_numbers <- function(from, to, passes, rounded, confidence, spread) {
  n <- max(length(from), length(to))
  if (!n) abort_input("no claim given", todo = "give two figures, or a table with the columns from and to")
  both <- function(x) lapply(if (is.list(x)) x else list(x, x), function(side) rep_len(as.numeric(side), n))
  from <- rep_len(from, n)
  to <- rep_len(to, n)
  passes <- both(passes)
  spread <- both(spread)
  rounded <- rep_len(rounded, n)
  assert_claims(from, to, passes, rounded, spread)
  alpha <- family_alpha(confidence, n)
  # the smallest gap that the figures before rounding may have had
  low <- log(pmax(from, to) - rounded / 2) - log(pmin(from, to) + rounded / 2)
  se <- sqrt(1 / passes[[1]] + 1 / passes[[2]])
  noise <- pmax(0, low) / (stats::qnorm(1 - alpha / 2) * se)
  data.frame(
    from = from, to = to, change = 100 * (to / from - 1), passes_from = passes[[1]], passes_to = passes[[2]],
    rounded = rounded, break_even = 100 * expm1(noise),
    claim_interval(from, to, passes, spread, rounded, alpha),
    confidence = confidence, together = n
  )
}

# a standard deviation over its mean is that of the logarithms, as long as it is small
claim_interval <- function(from, to, passes, spread, rounded, alpha) {
  part <- Map(function(spread, figure, n) (spread / figure)^2 / n, spread, list(from, to), passes)
  se <- sqrt(part[[1]] + part[[2]])
  df <- vapply(seq_along(se), function(i) {
    told <- !is.na(se[i])
    if (told) welch_df(c(part[[1]][i], part[[2]][i]), c(passes[[1]][i], passes[[2]][i]), alpha) else NA_real_
  }, 1)
  reach <- t_reach(alpha, df) * se
  range <- new_interval(
    log(to - rounded / 2) - log(from + rounded / 2) - reach, log(to + rounded / 2) - log(from - rounded / 2) + reach
  )
  data.frame(
    spread_from = spread[[1]], spread_to = spread[[2]], lower = 100 * expm1(range$lower),
    upper = 100 * expm1(range$upper), stands = range$lower > 0 | range$upper < 0
  )
}

assert_claims <- function(from, to, passes, rounded, spread) {
  bad <- which(!is.finite(from) | !is.finite(to) | from <= 0 | to <= 0)
  if (length(bad)) {
    abort_input("a figure is not a number above 0", paste("claim", bad[1]), "give the two figures themselves")
  }
  counts <- which(Reduce(`|`, lapply(passes, function(p) !is.finite(p) | p < 1 | p != round(p))))
  if (length(counts)) {
    abort_input("passes must be whole numbers from 1 on", paste("claim", counts[1]), "leave it out if it is not known")
  }
  steps <- which(!is.finite(rounded) | rounded < 0 | rounded >= pmin(from, to))
  if (length(steps)) {
    abort_input(
      "the step of rounding must be 0 or more, and smaller than the figures", paste("claim", steps[1]),
      "71.2 is rounded to 0.1"
    )
  }
  told <- lapply(spread, function(s) !is.na(s))
  wrong <- which(Reduce(`|`, lapply(spread, function(s) !is.na(s) & !(is.finite(s) & s > 0))))
  if (length(wrong)) {
    abort_input(
      "a spread is not a number above 0", paste("claim", wrong[1]),
      "give the standard deviation of the passes; leave out one that was rounded to nothing"
    )
  }
  half <- which(told[[1]] != told[[2]])
  if (length(half)) {
    abort_input("a spread is given for one figure only", paste("claim", half[1]), "give both, or none")
  }
  single <- which(told[[1]] & pmin(passes[[1]], passes[[2]]) < 2)
  if (length(single)) {
    abort_input("one pass has no spread", paste("claim", single[1]), "say how many passes each figure is the mean of")
  }
}
