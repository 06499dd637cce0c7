# Counts of events per pass: their interval is never narrower than chance makes it for so many of them.

#' An estimate whose standard error bears how few events there were
#'
#' The half-width of the interval is `max(t s / sqrt(n), z sqrt(A + B + 1) / n)` with the totals A and B of both
#' arms: at most 3 % false under Poisson counts of means 0.2 to 40, dispersed or not; the differences of square
#' roots find more, but tell no difference in the metric's own unit.
#' @param found From `estimate()`. @param two Counted passes with `value`, `arm`, `seconds`.
#' @param per `pass` or `minute`: what the values are counts of.
#' @return `found` with `se` and `at_size` changed, and `events` (both totals).
#' @noRd
with_count_floor <- function(found, two, arm, baseline, per, alpha) {
  # a rate per minute is a count over its minutes; where they are not known it counts as one
  size <- if (per == "minute") ifelse(is.finite(two$seconds) & two$seconds > 0, two$seconds / 60, 1) else 1
  events <- two$value * size
  of <- function(a) c(events = sum(events[two$arm == a]), size = sum(rep_len(size, length(events))[two$arm == a]))
  totals <- cbind(of(arm), of(baseline))
  units <- found$units
  half <- function(n) {
    growth <- n / units
    z <- if (is.null(found$crit)) stats::qnorm(1 - alpha / 2) else look_normal(n, found$wanted)
    z * sqrt(sum(totals["events", ]) * growth + 1) / (min(totals["size", ]) * growth)
  }
  bear <- function(at, n) {
    at$se <- max(at$se, half(n) / critical_t(at, alpha))
    at
  }
  at_size <- found$at_size
  found$at_size <- function(n) bear(at_size(n), n)
  found$few <- half(units) / critical_t(found, alpha) > found$se
  found$events <- totals["events", ]
  bear(found, units)
}
