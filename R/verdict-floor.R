# Does an arm stay above a level: its mean pass, and the next single one.

#' Limits of the mean pass, of the next one, and how many passes would settle it
#'
#' Where passes share what their boot or block was like, those are what tells how far the mean may lie off; a single
#' pass then varies by both. One pass of several may be far off where noise has a second lump, which a normal
#' distribution does not have: the limit of the next one is never nearer than the worst pass that was seen.
#' @param y Passes of one arm on the scale of analysis. @param group Which share a boot or block, or `NULL`.
#' @param level The level to stay above or below, on that scale. @param alpha Two-sided.
#' @return A list: `mean`, `lower`, `upper`, `next_lower`, `next_upper` (`NA` for one pass), `more` (passes, boots or
#'   blocks of a fresh batch that would tell on which side the mean lies, four times in five; `Inf` above 1000).
#' @references Hahn and Meeker (1991), Statistical Intervals, section 4.7 (prediction of one further value); section 5.2
#'   (without a distribution).
#' @noRd
floor_limits <- function(y, group, level, alpha) {
  units <- if (is.null(group)) y else as.numeric(tapply(y, group, mean))
  n <- length(units)
  mean <- mean(units)
  if (n < 2) {
    return(list(
      mean = mean, lower = NA_real_, upper = NA_real_, next_lower = NA_real_, next_upper = NA_real_, more = NA_real_
    ))
  }
  spread <- stats::sd(units)
  inside <- if (is.null(group)) 0 else within_variance(y, group)
  half <- t_reach(alpha, n - 1) * sqrt(c(spread^2 / n, spread^2 * (1 + 1 / n) + inside))
  # the next one may be as any that was seen
  next_one <- interval_about(mean, half[2])
  c(list(mean = mean), interval_about(mean, half[1]), list(
    next_lower = min(next_one$lower, y), next_upper = max(next_one$upper, y),
    more = passes_to_place(abs(mean - level), spread, alpha)
  ))
}

# what a single pass varies by that a mean of its group does not
within_variance <- function(y, group) {
  size <- stats::ave(y, group, FUN = length)
  left <- y - stats::ave(y, group)
  sum(left^2) / max(1, length(y) - length(unique(group))) * (1 - mean(1 / size))
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
    crit <- t_reach(alpha, n - 1)
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
