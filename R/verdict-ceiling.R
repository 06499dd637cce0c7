# What a ceiling leaves of a verdict: a bound where one arm is held, nothing where both are.

#' What a ceiling does to one verdict row
#' @noRd
apply_ceiling <- function(row, ceilings) {
  held <- held_sides(row, ceilings)
  if (!any(held$touched)) {
    return(row)
  }
  limit <- paste0(show_number(1000 / held$limit_ms[held$touched]), " fps")
  if (all(held$touched)) {
    return(block_row(
      row, paste0("both held at a ceiling (", paste(unique(limit), collapse = ", "), "): the difference is hidden")
    ))
  }
  side <- c("arm", "baseline")[held$touched]
  row$verdict <- verdict_bound(row$verdict, side)
  row$reason <- join_reasons(paste0("at least: ", row[[side]], " held at ", limit[1]), row$reason)
  if (row$verdict == "unclear") row$more_passes <- Inf
  row
}

held_sides <- function(row, ceilings) {
  sides <- c(row$arm, row$baseline)
  if (is.null(ceilings) || !row$metric %in% c(ceiling_metrics, percentile_at_limit)) {
    return(list(touched = c(FALSE, FALSE)))
  }
  here <- ceilings[ceilings$workload == row$workload & ceilings$context %in% row$context, ]
  limit <- here$limit_ms[match(sides, here$arm)]
  touched <- !is.na(limit)
  if (row$metric %in% percentile_at_limit) {
    # a percentile is hidden only where it sits at the limit itself
    touched <- touched & abs(c(row$arm_value, row$baseline_value) / limit - 1) < 0.02
    touched[is.na(touched)] <- FALSE
  }
  list(touched = touched, limit_ms = limit)
}
