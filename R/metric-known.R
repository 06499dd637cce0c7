# The metrics that are known from the start.

score_metric <- function() {
  new_metric("score", "score", "points", "higher", "percent", "as reported by the workload")
}

known_frame_metrics <- function() made_once("frames", function() by_id(frame_metrics()))
known_sensor_metrics <- function() made_once("sensors", function() by_id(sensor_metrics()))

# the tester's own come first, so that they may describe a known one anew
known_metrics <- function(extra = list()) {
  c(by_id(extra), made_once("all", function() {
    c(
      known_frame_metrics(), by_id(list(score_metric())), known_sensor_metrics(), by_id(held_metrics()),
      known_outcome_metrics()
    )
  }))
}

#' Ids of what a capture gives by itself: of its frames, its loops and its sensors
#' @noRd
captured_ids <- function() setdiff(names(known_metrics()), "score")

#' The share of frames behind each metric of the tail
#' @noRd
tail_shares <- function() {
  share <- vapply(known_frame_metrics(), `[[`, 1, "tail")
  share[!is.na(share)]
}

#' What a ceiling does to a metric: `always`, `at_limit` or `never` hidden
#' @noRd
hidden_by_ceiling <- function(id) empty_to(known_frame_metrics()[[id]]$hidden, "never")

#' Steps in which a metric's values come for passes of a length, 0 where only its digits tell
#' @noRd
instrument_step <- function(id, seconds) {
  step_s <- empty_to(known_metrics()[[id]]$step_s, 0)
  if (step_s > 0 && any(is.finite(seconds))) step_s / stats::median(seconds, na.rm = TRUE) else 0
}

#' Does a metric count events, and per what?
#' @noRd
counted_per <- function(id) empty_to(known_metrics()[[id]]$counts, "no")

#' The metrics known from the start
#'
#' @param floors Frame rates (per second) for the `below_` metrics.
#' @return A data frame, one row per metric: `id`, `label`, `unit`, `better`,
#'   `scale`, `definition`.
#' @export
#' @examples
#' metric_table()[, c("id", "unit", "better")]
metric_table <- function(floors = c(30, 60)) {
  metrics <- c(frame_metrics(floors), list(score_metric()), known_sensor_metrics(), held_metrics(), outcome_metrics())
  parts <- c("id", "label", "unit", "better", "scale", "definition")
  list2DF(lapply(stats::setNames(nm = parts), function(part) vapply(metrics, `[[`, "", part, USE.NAMES = FALSE)))
}
