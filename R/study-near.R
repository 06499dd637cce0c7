# The first arm, in the order of preference, that is not worth less than the best.

#' Which arms are as good as the best, and which is the first of them
#'
#' An arm is near the best where the one-sided bound of its distance to every other arm lies inside the worth: then
#' it is so to the best one too, whichever that is. Over arms the level is shared; over the others, and over workloads
#' where the choice must hold everywhere, it need not be (intersection-union).
#'
#' @param x A study or readings.
#' @param worth How much worse than the best would do: percent or the metric's unit; one number, or named by metric.
#' @param ... Not used.
#' @param prefer As in [weigh_floors()].
#' @param primary,confidence As in [weigh()].
#' @return An object of class `honestmargin_near`, a data frame, one row per workload (segment, context), metric and
#'   arm: `worth`, `at_worst` (how much worse than the best of the others it may be, in percent or the unit; below zero:
#'   surely ahead of all), `against` (that other), `near` (`yes`, `no`: surely worse than some arm by more than the
#'   worth, `unclear`), `failed`. Attributes `choice`, `order` as in [weigh_floors()], `left_out` (places
#'   and metrics that are held at a ceiling, which hides the distances).
#' @section Errors: `honestmargin_error_needed` without a worth for a metric; `honestmargin_error_input` where there are
#'   no two arms.
#' @references Hsu (1981), Annals of Statistics 9, 1026-1034; Berger (1982), Technometrics 24, 295-300.
#' @export
#' @examples
#' weigh_near(read_study(demo_study()), worth = 2, primary = "fps_avg")
weigh_near <- function(x, worth, ..., prefer = NULL, primary = NULL, confidence = NULL) {
  assert_no_dots(...)
  plan <- if (is_study(x)) x$plan
  readings <- readings_of(x)
  order <- preferred_arms(x, prefer)
  asked <- list(
    baseline = empty_to(plan$setting$baseline, order[1]), worth = worth, primary = primary, confidence = confidence
  )
  how <- how_to_weigh(x, plan, readings, asked)
  cells <- overall_cells(rescale_nonpositive(readings), how)
  cells <- Filter(function(cell) length(unique(cell$arm)) > 1, cells)
  held <- vapply(cells, is_held, NA, how = how)
  left_out <- stack_rows(lapply(cells[held], function(cell) as.data.frame(place_of(cell))))
  cells <- cells[!held]
  if (!length(cells)) abort_input("nothing here has two arms that can be told apart", todo = "see: honestmargin weigh")
  rows <- stack_rows(lapply(cells, near_rows, how = how))
  lacking <- unique(rows$metric[is.na(rows$worth)])
  if (length(lacking)) {
    abort_needed(paste0("near the best within what, in ", lacking[1], "?"), todo = "--near-best METRIC=2")
  }
  rows$failed <- failures_of(x, rows)
  failed <- failed_arms(x)
  place <- paste(rows$workload, rows$segment, rows$context, rows$metric)
  rows <- rows[order(match(place, unique(place)), match(rows$arm, order)), , drop = FALSE]
  rownames(rows) <- NULL
  places <- length(unique(place))
  good <- vapply(order, function(arm) {
    mine <- rows[rows$arm == arm, , drop = FALSE]
    nrow(mine) == places && all(mine$near == "yes") && !arm %in% failed$arm
  }, NA)
  structure(rows,
    class = c("honestmargin_near", "data.frame"), labels = plan_labels(plan), confidence = how$confidence,
    choice = if (any(good)) order[good][1] else NA_character_, order = order, left_out = left_out,
    failed = failed
  )
}

near_rows <- function(cell, how) {
  arms <- intersect(how$arms, cell$arm)
  place <- as.data.frame(place_of(cell))
  worth <- worth_of(place$metric, how$worth)
  up <- if (cell$better[1] == "lower") -1 else 1
  level <- 1 - how$confidence^(1 / length(arms))
  band <- if (is.na(worth)) NA_real_ else worth_on_analysis(worth, place$scale)
  stack_rows(lapply(arms, function(arm) {
    others <- setdiff(arms, arm)
    bound <- vapply(others, function(other) lead_of(cell, arm, other, up, level), 1)
    ahead <- vapply(others, function(other) lead_of(cell, other, arm, up, level), 1)
    at <- if (anyNA(bound)) NA_integer_ else which.min(bound)
    data.frame(
      place,
      arm = arm, worth = worth, at_worst = if (is.na(at)) NA_real_ else behind_by(-bound[[at]], place$scale,
        cell$better[1]),
      against = if (is.na(at)) NA_character_ else others[at],
      near = near_word(bound, ahead, band)
    )
  }))
}

near_word <- function(bound, ahead, band) {
  if (anyNA(bound)) {
    "unclear"
  } else if (min(bound) > -band) {
    "yes"
  } else if (any(ahead > band)) {
    "no"
  } else {
    "unclear"
  }
}
