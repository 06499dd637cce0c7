# How passes ended, arm by arm, and what their number still leaves possible.

#' Passes that show whether an arm holds
#'
#' A flip of a toggled pass is none: when the session ends, no arm alone ended it.
#' @noRd
tried <- function(passes) passes$role == "counted" & !passes$outcome %in% not_the_arms & is.na(passes$part)

#' Passes that did not hold
#' @noRd
fell <- function(passes) tried(passes) & !passes$outcome %in% outcomes_well

#' Limits of a share, exact for independent passes
#'
#' @param x Failures. @param n Passes. @param alpha Two-sided.
#' @return A list: `lower`, `upper` (shares).
#' @references Clopper and Pearson (1934), Biometrika 26, 404-413.
#' @noRd
share_limits <- function(x, n, alpha) {
  new_interval(
    ifelse(x == 0, 0, stats::qbeta(alpha / 2, x, n - x + 1)),
    ifelse(x == n, 1, stats::qbeta(1 - alpha / 2, x + 1, n - x))
  )
}

#' Limits of a rate, exact for failures that come at random
#'
#' @param x Failures. @param hours How long was tried.
#' @references Garwood (1936), Biometrika 28, 437-442.
#' @noRd
rate_limits <- function(x, hours, alpha) {
  new_interval(stats::qgamma(alpha / 2, x) / hours, stats::qgamma(1 - alpha / 2, x + 1) / hours)
}

#' What is still possible, told of one arm alone: none seen (or none that held) leaves one side only
#' @noRd
possible_share <- function(x, n, confidence = 0.95) {
  alpha <- 1 - confidence
  share_limits(x, n, ifelse(x == 0 | x == n, 2 * alpha, alpha))
}

possible_rate <- function(x, hours, confidence = 0.95) {
  rate_limits(x, hours, ifelse(x == 0, 2, 1) * (1 - confidence))
}

#' @param passes Data frame of passes. @param planned Arms that the plan names.
#' @return Data frame, one row per place and arm: see [outcome_table()].
#' @noRd
count_outcomes <- function(passes, planned = NULL) {
  arms <- arm_order(passes$arm, planned)
  place <- paste(passes$workload, passes$context, sep = "\r")
  first <- which(!duplicated(place))
  grid <- data.frame(
    workload = rep(passes$workload[first], each = length(arms)),
    context = rep(passes$context[first], each = length(arms)), arm = rep(arms, length(first))
  )
  at <- (match(place, place[first]) - 1) * length(arms) + match(passes$arm, arms)
  count <- function(keep) tabulate(at[keep], nrow(grid))
  counted <- passes$role == "counted"
  grid$passes <- count(rep(TRUE, nrow(passes)))
  for (outcome in union("ok", intersect(outcomes, passes$outcome))) {
    grid[[outcome]] <- count(counted & passes$outcome == outcome)
  }
  grid$warm_up <- count(passes$role == "warm_up")
  grid$excluded <- count(passes$role %in% roles_left_out)
  grid$tried <- count(tried(passes))
  grid$failed <- count(fell(passes))
  limits <- possible_share(grid$failed, grid$tried)
  grid[c("failed_lower", "failed_upper")] <- lapply(limits, function(x) ifelse(grid$tried > 0, 100 * x, NA_real_))
  grid$hours <- exposure_hours(passes, at, nrow(grid))
  grid$per_hour <- grid$failed / grid$hours
  grid[c("per_hour_lower", "per_hour_upper")] <- possible_rate(grid$failed, grid$hours)
  # arms that were never meant to run in a context are no row of it
  grid <- grid[grid$passes > 0 | is.na(grid$context) | grid$arm %in% planned, , drop = FALSE]
  if (all(is.na(grid$context))) grid$context <- NULL
  rownames(grid) <- NULL
  grid
}

# known where it is known of every pass: a failure without its time would count double
exposure_hours <- function(passes, at, n) {
  use <- tried(passes)
  timed <- is.finite(passes$seconds) & passes$seconds > 0
  lacking <- tabulate(at[use & !timed], n) > 0
  hours <- vapply(split(passes$seconds[use], factor(at[use], seq_len(n))), sum, 1) / 3600
  ifelse(lacking | hours == 0, NA_real_, hours)
}
