# The question: which is the first arm that is as good as the best?

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
#' @return An answer ([ask_study()]), a data frame, one row per workload (segment, context), metric and
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
  spec <- contrast_spec(x, plan, readings, asked)
  cells <- overall_cells(rescale_nonpositive(readings), spec)
  cells <- Filter(function(cell) length(unique(cell$arm)) > 1, cells)
  held <- vapply(cells, is_held, NA, spec = spec)
  left_out <- stack_rows(lapply(cells[held], function(cell) as.data.frame(place_of(cell))))
  cells <- cells[!held]
  if (!length(cells)) {
    abort_input("no workload and metric has two arms that can be compared", todo = "see: honestmargin weigh")
  }
  rows <- stack_rows(lapply(cells, near_rows, spec = spec))
  lacking <- unique(rows$metric[is.na(rows$worth)])
  if (length(lacking)) {
    abort_needed(paste0("name how near the best, in ", lacking[1]), todo = paste0("--near-best ", lacking[1], "=2"))
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
  new_answer("near", rows, if (is_study(x)) x else readings,
    confidence = spec$confidence, choice = if (any(good)) order[good][1] else NA_character_, order = order,
    left_out = left_out,
    failed = failed
  )
}

near_rows <- function(cell, spec) {
  arms <- intersect(spec$arms, cell$arm)
  place <- as.data.frame(place_of(cell))
  worth <- worth_of(place$metric, spec$worth)
  up <- if (cell$better[1] == "lower") -1 else 1
  level <- 1 - spec$confidence^(1 / length(arms))
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

#' @param x From `weigh_near()`.
#' @noRd
near_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  chosen <- attr(x, "choice")
  places <- unique(place_names(rows))
  first <- if (is.na(chosen)) {
    paste0("No arm is shown to be as good as the best everywhere, within ", near_worth(rows), ".")
  } else {
    paste0(
      arm_names(chosen, labels), " is the first that is as good as the best within ", near_worth(rows),
      if (length(places) > 1) paste0(" in all of ", some_of(places, 4)) else paste0(" in ", places), "."
    )
  }
  rest <- vapply(setdiff(attr(x, "order"), chosen), function(arm) {
    mine <- rows[rows$arm == arm, , drop = FALSE]
    where <- function(word) paste(unique(place_names(mine[mine$near == word, , drop = FALSE])), collapse = ", ")
    said <- c(
      if (any(mine$near == "no")) paste("further behind in", where("no")),
      if (any(mine$near == "unclear")) paste("unclear in", where("unclear")),
      if (all(mine$near == "yes")) if (arm %in% attr(x,
        "failed")$arm) "as good as the best, but failed" else "so is this"
    )
    paste0(arms_with_failures(arm, labels, attr(x, "failed")), ": ", paste(said, collapse = "; "), ".")
  }, "")
  held <- attr(x, "left_out")
  c(first, unname(rest), if (NROW(held)) {
    paste0("Left out: ", paste(overall_place(held, labels), collapse = "; "), words_of_ceiling, ".")
  })
}

near_worth <- function(rows) {
  one <- rows[!duplicated(rows$metric), , drop = FALSE]
  said <- sub("^[+]", "", show_change(one$worth, one$scale, one$unit))
  if (length(unique(said)) == 1) said[1] else list_words(paste(said, "of", one$metric))
}

#' As a table for people
#' @noRd
near_shown <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  worst <- ifelse(is.na(rows$at_worst), "", ifelse(rows$at_worst <= 0, "ahead of all",
    paste0("up to ", sub("^[+]", "", show_change(signif(pmax(rows$at_worst, 0), 2), rows$scale, rows$unit)),
      " behind ", arm_names(
      rows$against, labels
    ))
  ))
  data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, labels), arm = arm_names(rows$arm, labels),
    `at worst` = worst, near = stay_words(rows$near), check.names = FALSE
  )
}

near_footing <- function(x) {
  paste0(
    "Each arm against every other, one-sided, together at ", show_share(attr(x, "confidence")),
    ". Preferred in this order: ", some_of(arm_names(attr(x, "order"), labels_of(x)), 8), "."
  )
}

register("question", "near",
  rank = 8, title = "As good as the best", about = "the first arm that is as good as the best",
  answer = weigh_near, takes = "confidence", needs = "--near-best PERCENT",
  own = list(
    `near-best` = list(
      meta = "P", help = "the first arm that is within so many percent of the best (or METRIC=P)", as = "worth",
      read = function(text) named_numbers(text, "near-best")
    ),
    prefer = prefer_option, metric = metric_option("primary")
  ),
  lines = near_words, line = function(x) near_words(x)[1], footing = near_footing,
  tables = function(x) list(shown_table(near_shown(x), group = c("workload", "metric")))
)
