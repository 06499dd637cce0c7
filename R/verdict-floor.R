# Does an arm stay above a level: its mean pass, and the next single one.

#' Limits of the mean pass, of the next one, and how many passes would settle it
#'
#' @param y Passes of one arm on the scale of analysis (means of boots where passes share them).
#' @param level The level to stay above or below, on that scale. @param alpha Two-sided.
#' @return A list: `mean`, `lower`, `upper`, `next_lower`, `next_upper` (`NA` for one pass), `more` (passes of a fresh
#'   batch that would tell on which side the mean lies, four times in five; `Inf` above 1000).
#' @references Hahn and Meeker (1991), Statistical Intervals, section 4.7 (prediction of one further value).
#' @noRd
floor_limits <- function(y, level, alpha) {
  n <- length(y)
  mean <- mean(y)
  if (n < 2) {
    return(list(
      mean = mean, lower = NA_real_, upper = NA_real_, next_lower = NA_real_, next_upper = NA_real_, more = NA_real_
    ))
  }
  spread <- stats::sd(y)
  half <- stats::qt(1 - alpha / 2, n - 1) * spread * sqrt(c(1 / n, 1 + 1 / n))
  list(
    mean = mean, lower = mean - half[1], upper = mean + half[1], next_lower = mean - half[2],
    next_upper = mean + half[2], more = passes_to_place(abs(mean - level), spread, alpha)
  )
}

# the smallest size whose t interval would leave the level out with that power
passes_to_place <- function(distance, spread, alpha, power = 0.8, most = 1000) {
  if (spread == 0) {
    return(2)
  }
  if (distance == 0) {
    return(Inf)
  }
  enough <- function(n) {
    crit <- stats::qt(1 - alpha / 2, n - 1)
    stats::pt(crit, n - 1, ncp = distance / spread * sqrt(n), lower.tail = FALSE) >= power
  }
  sizes <- unique(round(2 * 1.1^(0:66)))
  first <- Find(function(n) n <= most && enough(n), sizes)
  empty_to(first, Inf)
}

#' On which side of a level an interval lies
#' @param better `"higher"`: it must stay above; `"lower"`: below. @return `"yes"`, `"no"`, `"unclear"`.
#' @noRd
side_of <- function(lower, upper, level, better) {
  above <- lower >= level
  below <- upper <= level
  good <- if (better == "lower") below else above
  bad <- if (better == "lower") above else below
  ifelse(is.na(lower), "unclear", ifelse(good, "yes", ifelse(bad, "no", "unclear")))
}
