# The numbers behind the figures. Figures draw them and compute nothing.

#' The numbers behind a figure
#'
#' @param x A study or a readings table; for `of = "change"` also what [weigh()]
#'   returned.
#' @param of `"change"` (change of each arm with its interval), `"passes"` (every
#'   pass, and each arm's mean with the interval of its verdict carried over to
#'   the metric's unit), `"trace"` (frame times over time, one pass per arm),
#'   `"sensors"` (loads, clocks, temperatures and power over time in those passes) or
#'   `"outcomes"` (every counted pass by how it ended and how long it ran).
#' @param workload,metric Which workloads and metrics; `NULL` for all workloads
#'   and the primary metrics (for a trace the first workload that has one).
#' @param context Which levels of the second factor; `NULL` for all (a trace shows one: `NULL` for the first).
#' @param ... Passed to [weigh()]: `baseline`, `worth` and so on.
#' @return A data frame. `change`: rows of [weigh()] with `label`. `passes`: one
#'   row per pass and per mean, with `kind` (`pass` or `mean`), `value`, `lower`,
#'   `upper`, `state` (`counted`, `excluded`, or the outcome). `trace`: one row
#'   per slice of time and arm, with `time_s` and the fastest, median and slowest
#'   frame of the slice in ms. `sensors`: one row per slice of time, arm and series,
#'   with `label`, `value` and `unit`. `outcomes`: one row per counted pass, with `outcome`,
#'   `held`, `from` and `to` (time under test of its arm, or passes: `unit`).
#' @section Errors: `honestmargin_error_input` for an unknown workload, metric or context,
#'   and where there is no trace to show.
#' @export
#' @examples
#' head(figure_data(read_study(demo_study()), "change")[, c("workload", "metric", "arm", "change")])
figure_data <- function(x, of = "change", workload = NULL, metric = NULL, context = NULL, ...) {
  kind <- registered("figure", of)
  if (is.null(kind)) {
    abort_usage(
      paste0("there is no figure '", of, "'"),
      todo = did_you_mean(of, names(registered("figure")))
    )
  }
  kind$data(x, workload, metric, context, ...)
}

change_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  choose_rows(weighed(x, ...), workload, metric, context)
}

register("figure", "change", rank = 1, data = change_data, about = "change of each arm", weighs = TRUE)

#' @noRd
choose_rows <- function(verdicts, workload, metric, context) {
  rows <- only_rows(verdicts, workload, metric, context)
  if (is.null(metric) && any(rows$role == "primary")) rows <- rows[rows$role == "primary", , drop = FALSE]
  rows$label <- metric_labels(rows$metric, labels_of(verdicts))
  structure(rows, labels = labels_of(verdicts), marks = arm_marks(rows))
}
