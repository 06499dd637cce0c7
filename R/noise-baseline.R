# Repeats of the baseline as the noise of arms that ran once, where the tester declares it.

#' @param two Counted passes of both arms, with `y` and `order`.
#' @return A list: `stored` (as `stored_noise()`), or `why` (a code) where they cannot stand for it.
#' @noRd
baseline_noise <- function(two, arm, baseline) {
  own <- two$arm == baseline
  n <- sum(own)
  if (n < 2) {
    return(list(why = new_code("baseline_once", baseline = baseline)))
  }
  # passes of the baseline on one side only would leave what time did to the arm
  around <- anyNA(two$order) || all(
    two$order[!own] > min(two$order[own]) & two$order[!own] < max(two$order[own])
  )
  if (!around) {
    return(list(why = new_code("baseline_apart", baseline = baseline, arm = arm)))
  }
  list(stored = list(
    sd = stats::sd(two$y[own]), df = n - 1,
    said = new_code("baseline_noise", arm = arm, baseline = baseline, n = n)
  ))
}

#' The noise at which a gap would no longer stand
#'
#' On the scale of analysis; the noise is taken as known exactly (normal quantile), since nothing is known of it.
#' @param gap Difference of the two arms' means. @param n Passes of both.
#' @noRd
break_even_noise <- function(gap, n, alpha) abs(gap) / (stats::qnorm(1 - alpha / 2) * sqrt(sum(1 / n)))
