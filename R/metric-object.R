# A metric carries what a judge must know about it: unit, direction, scale.

#' Describe a metric
#'
#' A metric knows its unit, which direction is better and on which scale
#' differences of it are told, so that nothing downstream has to guess.
#'
#' @param id Short name, as used in the readings table.
#' @param label Name for people.
#' @param unit Unit of the value, `""` for none.
#' @param better `"higher"`, `"lower"`, or `"none"` for a number that only
#'   describes the pass and is not weighed (frames, seconds).
#' @param scale `"percent"` (ratio of geometric means; values must be positive)
#'   or `"absolute"` (difference in the metric's unit).
#' @param definition One sentence: how the number is made.
#' @param compute `NULL`, or a function that takes a numeric vector of frame
#'   times (ms) and returns one number. Metrics without it are read or typed.
#' @return An object of class `honestmargin_metric`, a list of the arguments.
#' @section Errors: `honestmargin_error_input` when `compute` does not return
#'   one number (raised by [frame_summary()]).
#' @export
#' @examples
#' p90 <- new_metric("ms_p90", "90th percentile", "ms", "lower", "percent",
#'   "type 7 quantile of frame time",
#'   compute = function(x) stats::quantile(x, 0.9, names = FALSE)
#' )
#' frame_summary(c(8, 8.2, 7.9, 16), metrics = list(p90))
new_metric <- function(id, label = id, unit = "", better = "higher", scale = "percent",
                       definition = "", compute = NULL) {
  checkmate::assert_string(id, min.chars = 1)
  checkmate::assert_string(label)
  checkmate::assert_string(unit)
  checkmate::assert_choice(better, c("higher", "lower", "none"))
  checkmate::assert_choice(scale, c("percent", "absolute"))
  checkmate::assert_function(compute, null.ok = TRUE)
  structure(
    list(
      id = id, label = label, unit = unit, better = better, scale = scale,
      definition = definition, compute = compute
    ),
    class = "honestmargin_metric"
  )
}

by_id <- function(metrics) stats::setNames(metrics, vapply(metrics, `[[`, "", "id"))

#' The metrics known from the start
#'
#' @param floors Frame rates (per second) for the `below_` metrics.
#' @return A data frame, one row per metric: `id`, `label`, `unit`, `better`,
#'   `scale`, `definition`.
#' @export
#' @examples
#' metric_table()[, c("id", "unit", "better")]
metric_table <- function(floors = c(30, 60)) {
  metrics <- known_metrics(floors = floors)
  pick <- function(part) vapply(metrics, `[[`, "", part)
  parts <- c("id", "label", "unit", "better", "scale", "definition")
  list2DF(stats::setNames(lapply(parts, pick), parts))
}
