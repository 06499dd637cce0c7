# Intervals: one constructor makes every one, and Student's t is asked in one place.

#' So many standard errors to either side
#'
#' @param alpha What is left outside, both sides together; a one-sided bound at level a takes `2 * a`.
#' @param df Degrees of freedom. @return Numbers, as long as the longer of both.
#' @references Student (1908), Biometrika 6, 1-25.
#' @noRd
t_reach <- function(alpha, df) stats::qt(1 - alpha / 2, df)

#' An interval, or many at once
#'
#' @param lower,upper Numbers; `NA` where nothing is known.
#' @return An object of class `honestmargin_interval`, a list `lower`, `upper`.
#' @section Errors: An internal error where a lower end lies above its upper one.
#' @noRd
new_interval <- function(lower, upper) {
  # the last bit of a sum is no contradiction
  gap <- upper - lower
  wrong <- which(gap < -1e-9 * pmax(abs(lower), abs(upper)))
  if (length(wrong)) stop("an interval from ", lower[wrong[1]], " to ", upper[wrong[1]])
  structure(list(lower = lower, upper = upper), class = "honestmargin_interval")
}

#' The interval about a middle
#'
#' @param half Half of its width. @param shown How its ends are told: a function that only rises.
#' @noRd
interval_about <- function(middle, half, shown = identity) {
  new_interval(shown(middle - half), shown(middle + half))
}
