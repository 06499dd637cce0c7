# The readings table: one row per pass and metric. Everything before weighing
# produces it, everything after consumes it.

#' Fill in and check a readings table
#'
#' @param x Data frame with at least `arm` and `value`.
#' @param known List of metric objects that are known beside the built-in ones.
#' @param better Named character vector: direction by metric, as the tester gave it.
#' @param primary Metrics that are judged, where they are named: the others need no direction.
#' @param source What to call the table in messages; `lines` the numbers of its rows there, `row` what those are called.
#' @return An object of class `honestmargin_readings`: a data frame with all of
#'   `reading_columns` plus `scale`; findings in the attribute `findings`.
#' @noRd
complete_readings <- function(x, known = list(), better = NULL, source = "readings",
                              lines = seq_len(nrow(x)), row = "line", primary = NULL) {
  x <- as.data.frame(x)
  row_of <- function(i) c(source, paste(row, some_of(lines[i])))
  # how passes ended can be all there is
  if (is.null(x$value) && !is.null(x$outcome)) x$value <- rep(NA_real_, nrow(x))
  missing <- setdiff(c("arm", "value"), names(x))
  if (length(missing)) {
    abort_input(
      paste0("no column '", missing[1], "'"), source,
      paste0("a readings table has at least the columns arm and value; found: ", some_of(names(x), 9))
    )
  }
  if (!nrow(x)) abort_input("no rows", source, "one row per pass and metric is needed")
  findings <- attr(x, "findings")
  x <- fill_columns(x, better)
  in_time <- blocks_in_time(x)
  x <- in_time$rows
  findings <- bind_findings(findings, in_time$findings)
  assert_reading_values(x, row_of)
  resolved <- resolve_rows(x$metric, x$unit, x$better, known_metrics(known))
  # where nothing is judged nobody has to say which direction is better
  idle <- if (!is.null(primary)) setdiff(resolved$unknown, primary)
  if (length(idle)) {
    if (length(primary)) findings <- bind_findings(findings, new_finding("note", "not_judged", metrics = idle))
    resolved$better[x$metric %in% idle] <- "none"
    resolved$unknown <- setdiff(resolved$unknown, idle)
  }
  assert_directions(resolved, x, source, known)
  if (!is.null(x$scale)) resolved$scale <- ifelse(is.na(x$scale), resolved$scale, as.character(x$scale))
  x[c("unit", "better", "scale")] <- resolved[c("unit", "better", "scale")]
  once <- count_once(x)
  x <- once$rows
  structure(x,
    findings = bind_findings(findings, reading_notes(x, resolved$said), once$findings),
    class = c("honestmargin_readings", "data.frame")
  )
}

#' Readings of a study whose passes gave no number
#' @noRd
no_readings <- function() {
  text <- character()
  rows <- list2DF(c(
    stats::setNames(rep(list(text), length(reading_columns)), reading_columns), list(scale = text)
  ))
  rows[c("value", "order", "seconds")] <- list(numeric(), numeric(), numeric())
  rows[c("part", "batch")] <- list(integer(), integer())
  structure(rows, findings = no_findings(), class = c("honestmargin_readings", "data.frame"))
}

# all that are not known are asked for at once
assert_directions <- function(resolved, x, source, known) {
  # where a plan describes the metrics, that is where a direction is said
  ask <- function(ids) {
    if (length(known)) {
      return("say it in the plan: metrics: [{id: ..., better: lower}] (or higher)")
    }
    judged <- setdiff(x$metric, ids)
    paste0(
      "add a column better, or say it: --better ", as_typed(paste0(ids, "=lower", collapse = ",")),
      " (or =higher, or =none where it is not to be judged)",
      if (length(judged)) paste0("; or name what counts: --primary ", as_typed(judged[1])),
      if (any(names_a_spread(ids)) && !anyDuplicated(x[c("workload", "arm", "metric")])) {
        "; a mean with its spread is no pass: give a row to each pass, or see honestmargin claim for published figures"
      }
    )
  }
  if (length(resolved$torn)) {
    id <- resolved$torn[1]
    unit <- stats::na.omit(x$unit[x$metric == id])
    unit <- unit[!is.na(better_from_unit(unit))][1]
    said <- better_from_unit(unit)
    opposite <- c(lower = "higher", higher = "lower")
    abort_needed(
      paste0(
        "'", id, "' is better ", opposite[[said]], " by its definition, but the unit ", unit, " says ", said
      ), source, paste0(
        if (length(known)) "fix the unit" else "give the metric a name of its own in a column metric", ", or ",
        ask(resolved$torn)
      )
    )
  }
  if (length(resolved$unknown)) {
    abort_needed(
      paste0("is a higher or a lower ", paste0("'", resolved$unknown, "'", collapse = ", "), " better?"), source,
      ask(resolved$unknown)
    )
  }
}

fill_columns <- function(x, better) {
  n <- nrow(x)
  text <- function(name, default = NA_character_) {
    if (is.null(x[[name]])) {
      return(rep(default, n))
    }
    # few words stand in many rows, so each is looked at once
    words <- unique(x[[name]])
    clean <- trimws(show_exact(words, 15))
    clean[is.na(clean) | clean == ""] <- default
    clean[match(x[[name]], words)]
  }
  defaults <- c(
    metric = "score", unit = NA, better = NA, workload = "main", segment = NA, context = NA, block = NA,
    boot = NA, outcome = "ok", role = "counted", reason = NA
  )
  # a data frame takes ten times as long over each column
  rows <- as.list(x)
  rows[names(defaults)] <- Map(text, names(defaults), defaults)
  rows$arm <- text("arm")
  rows$pass <- text("pass")
  rows$pass[is.na(rows$pass)] <- show_exact(which(is.na(rows$pass)))
  number <- function(name, default) {
    value <- suppressWarnings(as.numeric(empty_to(x[[name]], NA)))
    rep_len(ifelse(is.na(value), default, value), n)
  }
  rows[c("order", "seconds", "part", "batch")] <- list(
    number("order", NA_real_), number("seconds", NA_real_), as.integer(number("part", NA)),
    as.integer(number("batch", 1))
  )
  said <- rows$metric %in% names(better)
  rows$better[said] <- unname(better[rows$metric[said]])
  columns <- c(reading_columns, setdiff(names(rows), reading_columns))
  structure(rows[columns], row.names = .set_row_names(n), class = "data.frame")
}

assert_reading_values <- function(x, row_of) {
  if (!is.numeric(x$value)) {
    abort_input("column value is not numeric", row_of(1), "give numbers; leave the cell empty when a pass gave none")
  }
  if (anyNA(x$arm)) {
    abort_input("no arm given", row_of(which(is.na(x$arm))), "say which value of the setting this pass ran with")
  }
  if (any(is.infinite(x$value))) {
    abort_input(
      "value is infinite", row_of(which(is.infinite(x$value))), "leave the cell empty when a pass gave no number"
    )
  }
  assert_word(x$outcome, outcomes, "outcome", row_of)
  assert_word(x$role, c(roles, search_roles), "role", row_of)
  assert_word(
    x$better[!is.na(x$better)], c("higher", "lower", "none"), "better",
    function(i) row_of(which(!is.na(x$better))[i])
  )
  own <- which(x$metric %in% names(known_outcome_metrics()) & !is.na(x$value))
  if (length(own)) {
    abort_input(
      paste0("'", x$metric[own[1]], "' is worked out from the column outcome"), row_of(own[1]),
      "give a number of your own another name"
    )
  }
  assert_counts(x, row_of)
  silent <- which(x$role == "excluded" & is.na(x$reason))
  if (length(silent)) {
    abort_input("excluded without a reason", row_of(silent), "fill in the column reason: nothing is dropped silently")
  }
  key <- joint_code(x$pass, x$part, x$workload, x$segment, x$metric)
  twice <- which(duplicated(key))
  if (length(twice)) {
    first <- match(key[twice[1]], key)
    abort_input(
      paste0(
        "pass ", x$pass[first], " has '", x$metric[first], "' of workload '", x$workload[first], "'",
        if (!is.na(x$segment[first])) paste0(", ", x$segment[first]), " twice"
      ),
      row_of(c(first, twice[1])), "each pass gives one value per workload and metric; give each pass its own id"
    )
  }
  two <- table(x$metric[!duplicated(joint_code(x$metric, x$better)) & !is.na(x$better)])
  if (any(two > 1)) {
    abort_input(
      paste0("'", names(two)[two > 1][1], "' is said to be better both higher and lower"),
      row_of(which(x$metric == names(two)[two > 1][1])[1]), "give one direction per metric"
    )
  }
}

# counts of events, and how long a pass took
assert_counts <- function(x, row_of) {
  per <- vapply(unique(x$metric), counted_per, "")[match(x$metric, unique(x$metric))]
  uncounted <- which(!is.na(x$value) & per != "no" & (x$value < 0 | (per == "pass" & x$value != round(x$value))))
  if (length(uncounted)) {
    at <- uncounted[1]
    abort_input(
      paste0("'", x$metric[at], "' counts events, and ", x$value[at], " is no count"), row_of(at),
      "give whole numbers from 0 on, or give a number of your own another name"
    )
  }
  negative <- which(x$seconds < 0)
  if (length(negative)) {
    abort_input(
      paste0("a pass of ", x$seconds[negative[1]], " seconds"), row_of(negative[1]),
      "seconds: how long the pass ran; leave the cell empty where that is not known"
    )
  }
}

reading_notes <- function(x, said) {
  notes <- lapply(unname(split_in_order(seq_len(nrow(said)), said$better, said$from)), function(at) {
    new_finding("note", "direction", direction = said$better[at[1]], from = said$from[at[1]], metrics = said$metric[at])
  })
  day <- which(x$seconds > 86400)
  if (length(day)) {
    long <- new_finding("warning", "long_pass", pass = x$pass[day[1]], hours = x$seconds[day[1]] / 3600)
    notes <- c(notes, list(long))
  }
  # "1.0" and "1", "Stock" and "stock"
  arms <- unique(x$arm)
  number <- suppressWarnings(as.numeric(arms))
  alike <- ifelse(is.na(number), tolower(gsub("[[:space:]]+", " ", arms)), show_exact(number, 15))
  twins <- Filter(function(of) length(of) > 1, split(arms, factor(alike, unique(alike))))
  notes <- c(notes, lapply(unname(twins), function(of) new_finding("warning", "arms_alike", arms = of)))
  if (all(is.na(x$order))) notes <- c(notes, list(new_finding("note", "order_unknown")))
  do.call(bind_findings, notes)
}

#' @export
`[.honestmargin_readings` <- function(x, ...) {
  out <- NextMethod()
  # a choice of columns is a plain table
  if (is.data.frame(out) && !all(reading_columns %in% names(out))) class(out) <- "data.frame"
  if (inherits(out, "honestmargin_readings")) {
    for (kept in c("findings", "account", "said_baseline", "loops", "arms", "cells")) attr(out, kept) <- attr(x, kept)
  }
  out
}
