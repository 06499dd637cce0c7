# What a ceiling leaves of a verdict: a bound where one arm is held, nothing where both are.

#' What a ceiling does to one verdict row
#' @noRd
apply_ceiling <- function(row, ceilings) {
  held <- held_sides(row, ceilings)
  if (!any(held$touched)) {
    return(row)
  }
  rate <- 1000 / held$limit_ms[held$touched]
  if (all(held$touched) && abs(rate[1] / rate[2] - 1) < 0.02) {
    return(block_row(row, new_code("both_held", fps = rate)))
  }
  if (all(held$touched)) {
    # the one held higher is better by at least what lies between them
    row$verdict <- verdict_bound(row$verdict, if (rate[1] > rate[2]) "arm" else "baseline")
    row$codes <- c(list(new_code("two_ceilings", arm = row$arm, baseline = row$baseline, fps = rate)), row$codes)
    return(row)
  }
  side <- c("arm", "baseline")[held$touched]
  row$verdict <- verdict_bound(row$verdict, side)
  row$codes <- c(list(new_code("at_least", held = row[[side]], fps = rate)), row$codes)
  if (row$verdict == "unclear") row$more_passes <- Inf
  row
}

held_sides <- function(row, ceilings) {
  sides <- c(row$arm, row$baseline)
  hidden <- if (is.null(ceilings)) "never" else hidden_by_ceiling(row$metric)
  if (hidden == "never") {
    return(list(touched = c(FALSE, FALSE)))
  }
  here <- ceilings[ceilings$workload == row$workload & ceilings$segment %in% row$segment &
    ceilings$context %in% row$context, ]
  limit <- here$limit_ms[match(sides, here$arm)]
  touched <- !is.na(limit)
  # a limiter holds both at one rate; steady scenes at two near ones, as far apart as a setting moves them, are free
  apart <- abs(limit[1] / limit[2] - 1)
  if (all(touched) && apart > 0.006 && apart < 0.05) touched <- c(FALSE, FALSE)
  if (hidden == "at_limit") {
    # a percentile is hidden only where it sits at the limit itself
    touched <- touched & abs(c(row$arm_value, row$baseline_value) / limit - 1) < 0.02
    touched[is.na(touched)] <- FALSE
  }
  list(touched = touched, limit_ms = limit)
}
