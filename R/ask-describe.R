# Passes without a comparison: one machine, one arm, or several side by side.

#' Describe passes without comparing them
#'
#' For a machine that is only to be measured, or a setting that has one value so far: what was measured, how much
#' passes differ, and how well the mean is known. There are no verdicts: with nothing to compare nothing is better.
#'
#' @param x A study, a readings table, or a named list of them (machines side by side).
#' @param ... Not used.
#' @param confidence Of the interval of each mean, on its own.
#' @return An answer (see [as.data.frame.honestmargin_answer()]: its values), a list: `values` (data frame, one row per
#'   workload, segment, context, arm and metric: `passes`, `value` (geometric mean on the percent scale, else mean),
#'   `lower`, `upper`
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
    out <- new_answer("describe", list(
      values = bind_named(lapply(each, `[[`, "values")), outcomes = bind_named(lapply(each, `[[`, "outcomes")),
      limiting = bind_named(lapply(each, `[[`, "limiting")), facts = bind_named(lapply(each, `[[`, "facts"))
    ), lapply(each, attr, "weighed"),
    confidence = confidence, findings = do.call(bind_findings, lapply(each, findings_of))
    )
    attr(out, "labels") <- labels_of(each[[1]])
    return(out)
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
  new_answer("describe", list(
    values = values, outcomes = outcomes, limiting = if (is_study(x)) limiting_by_arm(x), facts = plan_facts(plan)
  ), x,
  confidence = confidence, primary = if (is.null(plan)) NULL else plan_primary(plan),
  findings = if (is_study(x)) x$findings else attr(readings, "findings")
  )
}

bind_named <- function(tables) {
  tables <- Filter(NROW, tables)
  stack_rows(lapply(names(tables), function(name) cbind(machine = name, plain_table(tables[[name]]))))
}

#' The same, held against the noise memory
#' @noRd
describe_remembering <- function(x, ..., memory = TRUE) {
  out <- describe_passes(x, ...)
  if (memory && is_study(x) && !is.null(x$sealed)) {
    known <- try_memory(remembered_rows(x))$got
    remember_noise(x)
    attr(out, "findings") <- bind_findings(attr(out, "findings"), unlike_before(x, shown_metrics(out), known))
  }
  out
}

register("question", "describe",
  rank = 0.6, title = "What was measured", about = "what was measured, without a comparison",
  answer = describe_passes, takes = "confidence",
  findings = function(x, exploratory) {
    in_words(of_metrics(attr(x, "findings"), unique(shown_values(x, exploratory)$metric)))
  },
  tidy = function(x) if (NROW(x$values)) x$values else plain_table(x$outcomes),
  lines = function(x) description_sentences(shown_values(x), labels_of(x)),
  line = function(x) {
    values <- shown_values(x)
    said <- count_of(sum(x$outcomes$tried), "pass", "passes")
    if (is.null(values)) said else paste0(said, " of ", count_of(length(unique(values$arm)), "arm"))
  },
  tables = function(x) list(shown_table(values_shown(shown_values(x), labels_of(x)), c("worst", "best", "n")))
)
