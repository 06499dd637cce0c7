# Counts of events per pass: their interval is never narrower than chance makes it for so many of them.

#' Half the interval of a difference of counts, for `n` units per arm
#'
#' The half-width of the interval is `max(t s / sqrt(n), z sqrt(A + B + 1) / n)` with the totals A and B of both
#' arms: at most 3 % false under Poisson counts of means 0.2 to 40, dispersed or not; the differences of square
#' roots find more, but tell no difference in the metric's own unit.
#' @param e A list of columns as in `new_estimate()`: `events`, `size`, `units`, `wanted`.
#' @noRd
half_of_counts <- function(e, n, alpha) {
  growth <- n / e$units
  z <- ifelse(is.na(e$wanted), stats::qnorm(1 - alpha / 2), look_normal(n, e$wanted))
  z * sqrt(e$events * growth + 1) / (e$size * growth)
}

#' Events, and what they are counted over, of each arm
#' @param rows Counted passes with `value`, `arm`, `seconds`. @param per `pass` or `minute`: what values are counts of.
#' @return A list `events`, `size` (passes or minutes), named by arm.
#' @noRd
events_of_arms <- function(rows, per) {
  # a rate per minute is a count over its minutes; where they are not known it counts as one
  size <- rep(1, length(rows$arm))
  if (per == "minute") size <- ifelse(is.finite(rows$seconds) & rows$seconds > 0, rows$seconds / 60, 1)
  list(events = sum_by(rows$value * size, rows$arm), size = sum_by(size, rows$arm))
}
