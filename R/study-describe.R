# Passes without a comparison: one machine, one arm, or several side by side.

#' Describe passes without comparing them
#'
#' For a machine that is only to be measured, or a setting that has one value so far: what was measured, how much
#' passes differ, and how well the mean is known. There are no verdicts: with nothing to compare nothing is better.
#'
#' @param x A study, a readings table, or a named list of them (machines side by side).
#' @param ... Not used.
#' @param confidence Of the interval of each mean, on its own.
#' @return An object of class `honestmargin_description`, a list: `values` (data frame, one row per workload, segment,
#'   context, arm and metric: `passes`, `value` (geometric mean on the percent scale, else mean), `lower`, `upper`
#'   (where the mean lies; `NA` for one pass, whose noise was not measured; over boots where passes share them),
#'   `noise` (standard deviation of one pass, in percent or the metric's unit), `best`, `best_pass`, `worst`,
#'   `worst_pass`; for several also `machine`), `outcomes` (see [outcome_table()]), `limiting` (see
#'   [limiting_table()], by arm), `facts` (data frame `machine`, `fact`, `value`: what the plans say of the machines
#'   and arms).
#' @section Errors: `honestmargin_error_input` where no pass counts.
#' @export
#' @examples
#' describe_passes(data.frame(arm = "laptop", value = c(812, 820, 808, 815)))
describe_passes <- function(x, ..., confidence = 0.95) {
  assert_no_dots(...)
  checkmate::assert_number(confidence, lower = 0.5, upper = 0.9999)
  several <- is.list(x) && !is.data.frame(x) && !is_study(x)
  if (several) {
    checkmate::assert_names(names(x), type = "unique", .var.name = "names of x")
    each <- lapply(x, describe_passes, confidence = confidence)
    return(new_description(
      values = bind_named(lapply(each, `[[`, "values")), outcomes = bind_named(lapply(each, `[[`, "outcomes")),
      limiting = bind_named(lapply(each, `[[`, "limiting")), facts = bind_named(lapply(each, `[[`, "facts")),
      confidence = confidence, labels = each[[1]]$labels, findings = do.call(bind_findings, lapply(each, findings_of)),
      of = lapply(each, `[[`, "of")
    ))
  }
  # nothing is judged, so nobody has to say which direction is better
  if (!is_study(x)) x <- readings_of(x, primary = character())
  readings <- readings_of(x)
  planned <- if (is_study(x)) plan_arms(x$plan)
  values <- describe_values(readings, arm_order(readings$arm, planned), confidence)
  outcomes <- outcome_table(x)
  if (is.null(values) && !any(outcomes$tried > 0)) {
    abort_input("no pass counts", todo = "every pass was a warm-up, excluded, stopped or lost")
  }
  plan <- if (is_study(x)) x$plan
  new_description(
    values = values, outcomes = outcomes, limiting = if (is_study(x)) limiting_by_arm(x), facts = plan_facts(plan),
    confidence = confidence, labels = plan_labels(plan), of = x,
    primary = if (is.null(plan)) NULL else plan_primary(plan),
    findings = if (is_study(x)) x$findings else attr(readings, "findings")
  )
}

new_description <- function(..., findings, of = NULL, primary = NULL) {
  structure(list(..., findings = findings, of = of, primary = primary), class = "honestmargin_description")
}

bind_named <- function(tables) {
  tables <- Filter(NROW, tables)
  stack_rows(lapply(names(tables), function(name) cbind(machine = name, plain_table(tables[[name]]))))
}

# what a plan says of its machine and its arms, one fact a row
plan_facts <- function(plan) {
  if (is.null(plan)) {
    return(NULL)
  }
  one <- function(facts, arm) {
    data.frame(
      arm = rep(arm, length(facts)), fact = as.character(names(facts)),
      value = vapply(facts, fact_text, "", USE.NAMES = FALSE)
    )
  }
  stack_rows(c(
    list(one(c(plan$machine, plan$conditions), NA_character_)),
    lapply(plan$arms, function(a) one(a$attributes, a$value))
  ))
}

#' One arm only: nothing can be compared
#' @noRd
has_one_arm <- function(x) {
  arms <- unique(readings_of(x)$arm)
  if (is_study(x)) arms <- union(plan_arms(x$plan), unique(x$passes$arm))
  length(arms) < 2
}
