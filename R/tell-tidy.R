# Verdicts for those who work in tables: one row per comparison, or one for all.

#' Verdicts as a tidy table
#'
#' Methods of `tidy()` and `glance()` of the package generics, where that is installed.
#' @param x What [weigh()] returned.
#' @param ... Not used.
#' @return `tidy()`: a data frame, one row per comparison: `workload`, `segment`, `context`, `metric`, `term` (the arm),
#'   `baseline`, `estimate` (the change, in percent or in the metric's unit: `scale`), `conf.low`, `conf.high`,
#'   `p.value`, `adj.p.value`, `verdict`, `role`. `glance()`: one row: `comparisons` (of the family), `confidence`,
#'   `passes` (counted), `settled` (how many are neither unclear nor without an answer), `headline`.
#' @name tidy_verdicts
#' @examples
#' v <- weigh(read_study(demo_study()))
#' if (requireNamespace("generics", quietly = TRUE)) generics::glance(v)
#' summary(v)
NULL

verdict_terms <- function(x) {
  rows <- plain_table(x)
  data.frame(
    rows[c("workload", "segment", "context", "metric")],
    term = rows$arm, baseline = rows$baseline, estimate = rows$change,
    conf.low = rows$lower, conf.high = rows$upper, p.value = rows$p_value, adj.p.value = rows$p_adjusted,
    rows[c("scale", "verdict", "role")], row.names = NULL
  )
}

#' @rdname tidy_verdicts
#' @exportS3Method generics::glance
glance.honestmargin_verdicts <- function(x, ...) {
  assert_no_dots(...)
  primary <- x$role == "primary"
  passes <- passes_of(what_was_weighed(x))
  data.frame(
    comparisons = max(x$family_size), confidence = x$confidence[1], passes = sum(passes$role == "counted"),
    settled = sum(!x$verdict[primary] %in% c("unclear", "blocked", "no basis")), headline = empty_to(headline(x), "")
  )
}

#' @rdname tidy_verdicts
#' @param object As `x`.
#' @return `summary()`: how many of the family have each verdict, a data frame `verdict`, `comparisons`.
#' @export
summary.honestmargin_verdicts <- function(object, ...) {
  assert_no_dots(...)
  rows <- object[object$role == "primary", , drop = FALSE]
  count <- table(factor(rows$verdict, intersect(names(plain_answers), rows$verdict)))
  data.frame(verdict = names(count), comparisons = as.integer(count))
}

#' Answers as tidy tables
#'
#' Methods of `tidy()` of the package generics, where that is installed: the table that an answer is made of, a plain
#' data frame.
#' @param x An answer (see [as.data.frame.honestmargin_answer()]), or what [describe_passes()] (its values),
#'   [check_passes()] (its findings), [read_search()] (its ladder), [plan_study()] (its power) or [read_readings()]
#'   returned.
#' @param ... Not used.
#' @return A data frame.
#' @name tidy_answers
#' @examples
#' found <- weigh_floors(data.frame(arm = "a", value = c(50, 51, 52)), c(score = 40))
#' if (requireNamespace("generics", quietly = TRUE)) generics::tidy(found)
NULL

tidy_table <- function(x, ...) {
  assert_no_dots(...)
  plain_table(x)
}

#' @rdname tidy_answers
#' @exportS3Method generics::tidy
tidy.honestmargin_readings <- tidy_table
#' @rdname tidy_answers
#' @exportS3Method generics::tidy
tidy.honestmargin_search <- function(x, ...) {
  assert_no_dots(...)
  search_table(x)
}
#' @rdname tidy_answers
#' @exportS3Method generics::tidy
tidy.honestmargin_forecast <- function(x, ...) {
  assert_no_dots(...)
  plain_table(empty_to(x$power, x$ways))
}
