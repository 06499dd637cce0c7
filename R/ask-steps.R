# The question: one thing after another was changed and kept; what did each step bring, and all of them together?

#' What each step brought
#'
#' Somebody changes one thing, measures, keeps it and changes the next. Each arm is weighed against the one before it,
#' and the last against the first; all of these comparisons form one family. Beside them stands what each step loaded
#' or relieved: the means of the loads that sensors recorded, or of metrics without a direction that somebody typed.
#' @param x A study, readings, or what [weigh()] returned. Their order is the plan's, that of numbers, or the one in
#'   which a table names the arms throughout.
#' @param ... Passed to [weigh()]: `against = c("stock", "fast memory", "pinned")` names another order.
#' @return An answer ([ask_study()]), a list of `steps` (data frame, one row per step: `workload`, `segment`, `context`,
#'   `metric`, `unit`, `scale`, `better`, `step` (`NA`: all together), `from`, `to`, `from_value`, `to_value`, `change`,
#'   `lower`, `upper`, `verdict`, `reason`, `worth`, `more_passes`) and `loads` (data frame, one row per step and load:
#'   `workload`, `context`, `step`, `metric`, `unit`, `from`, `to`, `from_value`, `to_value`, `change` as a difference;
#'   means that are not weighed).
#' @section Errors: As [weigh()].
#' @export
#' @examples
#' passes <- data.frame(
#'   arm = rep(c("stock", "fast memory", "pinned"), 3), block = rep(1:3, each = 3),
#'   value = c(100, 104, 109, 101, 105, 109, 99, 104, 108)
#' )
#' weigh_steps(passes, worth = 1)
weigh_steps <- function(x, ...) {
  verdicts <- if (inherits(x, "honestmargin_verdicts") && is_stepwise(x)) weighed(x, ...) else weigh_stepwise(x, ...)
  rows <- step_rows(verdicts)
  steps <- data.frame(
    rows[c("workload", "segment", "context", "metric", "unit", "scale", "better", "step")],
    from = rows$baseline, to = rows$arm, from_value = rows$baseline_value, to_value = rows$arm_value,
    rows[c("change", "lower", "upper", "verdict", "reason", "worth", "more_passes")], row.names = NULL
  )
  given <- what_was_weighed(verdicts)
  new_answer("steps", list(steps = steps, loads = loads_of_steps(readings_of(given), steps)), given,
    rows = rows, confidence = verdicts$confidence[1], findings = findings_of(verdicts), failed = failed_arms(given)
  )
}

# as it was weighed, but each against the one before it
weigh_stepwise <- function(x, ...) {
  how <- list(...)
  if (inherits(x, "honestmargin_verdicts")) {
    how <- utils::modifyList(attr(x, "how"), how)
    x <- what_was_weighed(x)
  }
  if (!is_steps(how$against)) how$against <- "previous"
  do.call(weigh, c(list(x), how))
}

# what a part did: recorded loads, and typed numbers that nobody judges
loads_of_steps <- function(readings, steps) {
  rows <- plain_table(readings)
  rows <- rows[is_counted(rows) & is.na(rows$segment), , drop = FALSE]
  typed <- rows$better == "none" & !rows$metric %in% names(known_metrics())
  rows <- rows[rows$metric %in% screen_loads | typed, , drop = FALSE]
  pairs <- unique(steps[c("workload", "context", "step", "from", "to")])
  stack_rows(lapply(each_row(pairs), function(pair) {
    here <- rows[rows$workload == pair$workload & rows$context %in% pair$context, , drop = FALSE]
    mean_of <- function(arm) {
      vapply(unique(here$metric), function(id) mean(here$value[here$metric == id & here$arm == arm]), 1)
    }
    from <- mean_of(pair$from)
    to <- mean_of(pair$to)
    known <- is.finite(from) & is.finite(to)
    if (any(known)) {
      data.frame(
        workload = pair$workload, context = pair$context, step = pair$step, metric = names(from)[known],
        unit = here$unit[match(names(from)[known], here$metric)], from = pair$from, to = pair$to,
        from_value = unname(from[known]), to_value = unname(to[known]), change = unname((to - from)[known])
      )
    }
  }))
}

steps_shown <- function(x) {
  labels <- labels_of(x)
  rows <- attr(x, "rows")
  out <- data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, labels),
    step = ifelse(is.na(rows$step), "all steps", step_names(rows, labels)),
    value = ifelse(is.na(rows$arm_value), "", paste(
      four_digits(rows$baseline_value), "->", four_digits(rows$arm_value)
    )),
    change = ifelse(rows$verdict == "blocked", "", shown_change(rows)),
    interval = ifelse(rows$verdict == "blocked", "", shown_interval(rows)), verdict = rows$verdict,
    more = more_shown(rows)
  )
  if (!any(nzchar(out$more))) out$more <- NULL
  out <- without_sole_place(out)
  shown_table(out, c("change", "more"),
    whole = c("interval", "verdict"), group = intersect(c("workload", "metric"), names(out))
  )
}

# a row for each step, a column for each load
loads_shown <- function(x) {
  labels <- labels_of(x)
  rows <- x$loads
  if (!NROW(rows)) {
    return(NULL)
  }
  key <- paste(rows$workload, rows$context, rows$step, sep = "\r")
  first <- !duplicated(key)
  out <- data.frame(
    workload = place_names(rows[first, c("workload", "context")]),
    step = ifelse(is.na(rows$step[first]), "all steps", paste(
      arm_names(rows$from[first], labels), "->", arm_names(rows$to[first], labels)
    ))
  )
  for (id in unique(rows$metric)) {
    mine <- rows[rows$metric == id, , drop = FALSE]
    at <- match(key[first], key[rows$metric == id])
    said <- paste0(
      four_digits(mine$from_value), " -> ", four_digits(mine$to_value),
      ifelse(mine$unit == "", "", paste0(" ", mine$unit))
    )
    out[[metric_labels(id, labels)]] <- ifelse(is.na(at), "", said[at])
  }
  if (identical(unique(out$workload), "main")) out$workload <- NULL
  shown_table(out,
    group = intersect("workload", names(out)), caption = "Loads beside the steps: means of the passes, not weighed."
  )
}

# the largest step that is shown, and what all of them did
steps_line <- function(x) {
  rows <- attr(x, "rows")
  if (length(unique(c(rows$arm, rows$baseline))) < 3) {
    return(NULL)
  }
  failed <- failed_arm_sentences(attr(x, "failed"), labels_of(x), c(rows$arm, rows$baseline))
  paste(c(climb_headline(rows, labels_of(x)), failed), collapse = " ")
}

register("question", "steps",
  rank = 0.7, title = "Step by step", about = "what each step brought after the one before it, and all of them",
  answer = weigh_steps, takes = "weighing",
  lines = function(x) {
    rows <- attr(x, "rows")
    c(
      failed_arm_sentences(attr(x, "failed"), labels_of(x), c(rows$arm, rows$baseline)),
      step_sentences(rows, labels_of(x))
    )
  }, line = steps_line,
  tables = function(x) Filter(length, list(steps_shown(x), loads_shown(x))),
  footing = function(x) {
    rows <- attr(x, "rows")
    paste0(
      "Each arm against the one before it: ", paste(arm_names(arms_in_steps(rows), labels_of(x)), collapse = ", "),
      ". All ", nrow(rows), " intervals hold together at ", show_share(attr(x, "confidence")), "."
    )
  },
  tidy = function(x) x$steps,
  findings = function(x, exploratory) in_words(attr(x, "findings"))
)

# in the order in which they were taken
arms_in_steps <- function(rows) {
  each <- rows[!is.na(rows$step), , drop = FALSE]
  unique(as.vector(rbind(each$baseline, each$arm)))
}
