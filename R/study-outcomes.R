# How the passes of a study ended.

#' How the passes ended, by arm
#'
#' @param x A study, a readings table, or what [weigh()] returned.
#' @return A data frame, one row per workload and arm: `workload`, `arm`,
#'   `passes`, then one column per outcome that occurred, and `warm_up` and
#'   `excluded` passes.
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
  rows <- plain_table(if (inherits(x, "honestmargin_readings")) x else complete_readings(x))
  rows[!duplicated(pass_key(rows)), c("pass", "part", of_pass), drop = FALSE]
}

readings_of <- function(x) {
  if (is_study(x)) x$readings else if (inherits(x, "honestmargin_readings")) x else complete_readings(x)
}

what_was_weighed <- function(x) if (inherits(x, "honestmargin_verdicts")) attr(x, "weighed") else x
