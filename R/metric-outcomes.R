# What is judged of the way passes end.

outcome_metrics <- function() {
  list(
    new_metric(
      "failed", "failed passes", "%", "lower", "absolute",
      "share of the counted passes that did not hold (crash, freeze, would not start, ...); no value is needed"
    ),
    new_metric(
      "failures_per_hour", "failures per hour", "/h", "lower", "percent",
      "passes that did not hold over the time that all of them ran",
      zero = TRUE
    )
  )
}

known_outcome_metrics <- function() made_once("outcomes", function() by_id(outcome_metrics()))
