# How the passes of a study ended.

#' How the passes ended, by arm
#'
#' @param x A study, a readings table, or what [weigh()] returned.
#' @return A data frame, one row per workload (and context) and arm: `workload`, `context` (where there is one),
#'   `arm`, `passes`, one column per outcome that occurred (counted passes), `warm_up` and `excluded` passes;
#'   `tried` (counted passes that show whether the arm holds: not those that the tester stopped or the tool lost),
#'   `failed` of them, `failed_lower` and `failed_upper` (what share may fail, in percent, at 95 %; one-sided
#'   where none or all failed), `hours` (exposure, `NA` where not known of every pass), `per_hour` (failures per
#'   hour), `per_hour_lower`, `per_hour_upper`. The limits take the passes to be independent.
#' @references Clopper and Pearson (1934), Biometrika 26, 404-413; Garwood (1936), Biometrika 28, 437-442.
#' @export
#' @examples
#' outcome_table(read_study(demo_study()))
outcome_table <- function(x) {
  x <- what_was_weighed(x)
  count_outcomes(passes_of(x), if (is_study(x)) plan_arms(x$plan))
}

#' The passes of a study, or of a readings table
#' @noRd
passes_of <- function(x) {
  if (is_study(x)) {
    return(x$passes)
  }
  rows <- plain_table(readings_of(x))
  rows[!duplicated(pass_key(rows)), c("pass", "part", of_pass), drop = FALSE]
}

#' @param primary Metrics that are judged, where they are named.
#' @noRd
readings_of <- function(x, primary = NULL, baseline = NULL) {
  if (is_study(x)) {
    x$readings
  } else if (inherits(x, "honestmargin_readings")) {
    x
  } else if (is.data.frame(x) && !(all(names(x) %in% c(reading_columns, "scale")) && is_own_form(x))) {
    # any other table, as in a file
    read_readings(x, primary = primary, baseline = if (length(baseline)) as.character(baseline))
  } else {
    complete_readings(x, primary = primary)
  }
}

# readings in our own columns, typed as they are
is_own_form <- function(x) "arm" %in% names(x) && (is.numeric(x$value) || is.null(x$value) && !is.null(x$outcome))

#' The study or the readings behind verdicts, with excluded passes as they were weighed
#' @noRd
what_was_weighed <- function(x) {
  if (!inherits(x, "honestmargin_verdicts")) {
    return(x)
  }
  of <- attr(x, "weighed")
  # a sealed plan is weighed as it was sealed
  if (isTRUE(attr(x, "how")$with_excluded) && !(is_study(of) && length(of$sealed))) counting_excluded(of) else of
}

counting_excluded <- function(x) {
  if (is_study(x)) {
    x[c("readings", "passes")] <- lapply(x[c("readings", "passes")], counting_excluded)
  } else {
    x$role[x$role == "excluded"] <- "counted"
  }
  x
}

#' Arms that failed anywhere, for every question that names arms: failing is the strongest result there is
#'
#' @param x A study, readings or verdicts.
#' @return Data frame, one row per arm that failed: `arm`, `failed`, `tried`, `places` (list: where).
#' @noRd
failed_arms <- function(x) {
  table <- outcome_table(x)
  table <- table[table$failed > 0, , drop = FALSE]
  table$place <- outcome_places(table)
  each <- split(table, factor(table$arm, unique(table$arm)))
  of <- function(column) vapply(each, function(t) sum(t[[column]]), 1, USE.NAMES = FALSE)
  list2DF(list(
    arm = names(each), failed = of("failed"), tried = of("tried"),
    places = unname(lapply(each, function(t) t$place))
  ))
}
