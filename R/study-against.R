# A study against earlier ones of the same machine: before and after, months apart.

#' Weigh a study against earlier ones
#'
#' What changed between them is listed first. Time and the setting are one thing then, and no number of passes parts
#' them. So there is an answer only where something says how far things move by themselves: an anchor (a
#' workload that the change cannot touch, run beside the others each time), two earlier studies or more (which differ
#' among themselves by what days bring), the noise memory (how far other days of one arm on this machine lie
#' apart), or your word that nothing else changed.
#'
#' @param x The study of now, readings, or the path of a study, a report or a table.
#' @param earlier List of earlier ones, the oldest first; `my-study:1` is a batch of one.
#' @param ... Not used.
#' @param arm Which arm; `NULL` for the baseline of `x`, or its only arm. Where it was called otherwise before:
#'   `c(now = "new driver", before = "driver")`.
#' @param anchor Workload that the change cannot touch; `NULL`: the plan's anchors, if any.
#' @param worth,primary,confidence As in [weigh()].
#' @param steady `TRUE`: you declare that nothing but the change was different on the two days.
#' @param memory Rows of [noise_memory()]; those of this machine that are not of these studies are used. `NULL`: none.
#' @return Verdicts as from [weigh()]: arm `now`, baseline `before`; attribute `changed` (data frame `what`, `before`,
#'   `now`) and `levels` (data frame per study, workload, context and metric: `study`, `at`, `value`, `lower`, `upper`,
#'   `change_point`).
#' @section Errors: `honestmargin_error_input` where no workload and metric is in both, or an arm or anchor is unknown.
#' @references Hahn and Meeker (1991), Statistical Intervals, section 4.3 (one further mean, predicted from K).
#' @export
#' @examples
#' now <- read_study(demo_study())
#' attr(weigh_against(now, list(now)), "changed")
weigh_against <- function(x, earlier, ..., arm = NULL, anchor = NULL, worth = NULL, primary = NULL, confidence = NULL,
                          steady = FALSE, memory = NULL) {
  assert_no_dots(...)
  checkmate::assert_flag(steady)
  if (is_study(earlier) || is.data.frame(earlier)) earlier <- list(earlier)
  studies <- lapply(c(as.list(earlier), list(x)), read_for_against)
  if (length(studies) < 2) abort_needed("name an earlier study", todo = "honestmargin against STUDY EARLIER")
  now <- studies[[length(studies)]]
  arms <- arm_in_each(arm, now, length(studies))
  rows <- stack_rows(lapply(seq_along(studies), function(k) rows_of_study(studies[[k]], k, arms[k])))
  assert_one_unit(rows, studies)
  anchor <- empty_to(anchor, plan_workloads(now$plan)[vapply(now$plan$workloads, `[[`, NA, "anchor")])
  if (length(setdiff(anchor, rows$workload))) {
    abort_input(
      paste0("the anchor '", setdiff(anchor, rows$workload)[1], "' has no passes"),
      todo = did_you_mean(setdiff(anchor, rows$workload)[1], unique(rows$workload))
    )
  }
  primary <- assert_metrics(primary, rows, "primary", plan_primary(now$plan))
  spec <- list(
    worth = worth_by_metric(worth, plan_worth(now$plan), rows), steady = steady, anchor = anchor,
    confidence = empty_to(confidence, empty_to(now$plan$confidence, 0.95)),
    memory = rows_of_others(memory, studies), one_day = length(unique(vapply(studies, study_date, ""))) == 1
  )
  cells <- against_cells(rows, spec, primary, length(studies))
  out <- new_verdicts(cells,
    bind_findings(changed_findings(studies), attr(now$readings, "findings")),
    labels = plan_labels(now$plan), of = if (is_study(now)) now else now$readings
  )
  # what ran as one arm in both is told by its time
  attr(out, "labels")[c("unit", "arms")] <- list("", c(now = "now", before = "before"))
  attr(out, "question") <- "against"
  attr(out, "changed") <- changed_between(studies)
  attr(out, "levels") <- study_levels(rows, studies, spec, primary)
  out
}

# "my-study:2" is the second batch of a study
read_for_against <- function(s) {
  if (is_study(s) || inherits(s, "honestmargin_at_a_time")) {
    return(s)
  }
  if (is.data.frame(s)) {
    return(readings_at_a_time(readings_of(s), "a table"))
  }
  if (file.exists(s) && !dir.exists(s)) {
    read <- if (grepl("[.]html?$", s, ignore.case = TRUE)) read_report(s) else read_readings(s)
    return(if (is_study(read)) read else readings_at_a_time(read, s))
  }
  batch <- if (!dir.exists(s) && grepl(":[0-9]+$", s)) as.integer(sub(".*:", "", s))
  if (is.null(batch)) read_study(s) else read_study(sub(":[0-9]+$", "", s), batch = batch)
}

#' Readings in place of a study: nothing but their passes is known of that time
#' @param name What they are called.
#' @noRd
readings_at_a_time <- function(readings, name) {
  structure(list(readings = readings, folder = name), class = "honestmargin_at_a_time")
}

#' What the arm is called in each study, that of now last
#' @noRd
arm_in_each <- function(arm, now, n) {
  if (length(arm) > 1) {
    checkmate::assert_names(names(arm), permutation.of = c("now", "before"))
    return(c(rep(arm[["before"]], n - 1), arm[["now"]]))
  }
  known <- unique(now$readings$arm)
  arm <- empty_to(arm, empty_to(now$plan$setting$baseline, if (length(known) == 1) known))
  if (is.null(arm)) {
    abort_needed("name the arm", todo = paste0("--arm ", as_typed(known[1]), " (arms: ", some_of(known), ")"))
  }
  rep(arm, n)
}

# one metric is one thing at all times
assert_one_unit <- function(rows, studies) {
  for (of in c("unit", "better")) {
    kinds <- unique(rows[c("metric", of)])
    torn <- kinds$metric[duplicated(kinds$metric)]
    if (length(torn)) {
      said <- kinds[[of]][kinds$metric == torn[1]]
      abort_input(
        paste0("'", torn[1], "' is not the same at all times: ", some_of(ifelse(said == "", "no unit", said))),
        some_of(vapply(studies, function(s) basename(s$folder), ""), 4), "bring it to one unit and direction"
      )
    }
  }
}

rows_of_study <- function(study, k, arm) {
  known <- unique(study$readings$arm)
  if (!arm %in% known) {
    abort_input(
      paste0("arm '", arm, "' did not run in ", basename(study$folder)),
      todo = paste0(
        "choose one that ran in all: --arm ", paste(as_typed(known), collapse = ", or --arm "),
        "; or say what it is called there: --arm NOW=BEFORE"
      )
    )
  }
  r <- plain_table(study$readings)
  r <- r[is_counted(r) & r$arm == arm & is.na(r$segment) & r$better != "none", , drop = FALSE]
  r$study <- rep(k, nrow(r))
  r
}

against_cells <- function(rows, spec, primary, now) {
  sensors <- names(known_sensor_metrics())
  judged <- rows[!rows$workload %in% spec$anchor, , drop = FALSE]
  cells <- split_in_order(seq_len(nrow(judged)), judged$workload, judged$context, judged$metric)
  cells <- Filter(function(at) all(c(TRUE, FALSE) %in% (judged$study[at] == now)), cells)
  if (!length(cells)) {
    abort_input("no workload and metric is in both", todo = "earlier studies must have run the same workloads")
  }
  is_primary <- vapply(cells, function(at) {
    id <- judged$metric[at[1]]
    if (is.null(primary)) !id %in% sensors else id %in% primary
  }, NA)
  family <- max(1, sum(is_primary))
  cells <- lapply(seq_along(cells), function(i) {
    cell <- against_cell(judged[cells[[i]], , drop = FALSE], if (is_primary[i]) family else 1, is_primary[i])
    cell$number <- i
    cell
  })
  parts <- lapply(cells, against_columns, rows = rows, spec = spec)
  verdict_table(tell_contrasts(judge_contrasts(bind_contrasts(list(parts)), NULL), cells, looks = FALSE))
}

against_cell <- function(mine, family, primary) {
  first <- lapply(mine[c("workload", "segment", "context", "metric", "unit", "better", "scale")], `[`, 1)
  if (first$scale == "percent" && any(mine$value <= 0)) first$scale <- "absolute"
  mine$y <- to_analysis(mine$value, first$scale)
  of_arm <- split(seq_along(mine$y), ifelse(mine$study == max(mine$study), "now", "before"))
  list(
    first = first, family = family, role = if (primary) "primary" else "exploratory", counted = mine, of_arm = of_arm,
    n_of = lengths(of_arm), y_of = vapply(of_arm, function(at) mean(mine$y[at]), 1)
  )
}

against_columns <- function(cell, rows, spec) {
  first <- cell$first
  anchor <- rows[rows$workload %in% spec$anchor & rows$metric == first$metric & rows$context %in% first$context, ]
  anchor$y <- to_analysis(anchor$value, first$scale)
  spread <- function(anchor = NULL) if (NROW(spec$memory)) spread_of_days(spec$memory, first, anchor, spec$one_day)
  anchored <- nrow(anchor) > 0
  alpha <- family_alpha(spec$confidence, cell$family)
  found <- estimate_against(cell$counted, if (anchored) anchor, spec$steady,
    days = spread(), apart = if (anchored) spread(anchor$workload[1]), alpha = alpha
  )
  set <- list(arms = "now", baseline = "before", place = 1)
  if (!is.null(found$why)) {
    return(contrast_columns(set, 1, cell, spec, NA_character_, why = list(found$why)))
  }
  e <- bear_at_hand(found[setdiff(names(found), c("unit", "said"))], alpha)
  contrast_columns(set, 1, cell, spec, found$unit, e, said = list(list(found$said)))
}

study_name <- function(study) {
  batch <- empty_to(study$sealed$batch, 1)
  paste0(basename(study$folder), if (batch > 1) paste0(":", batch))
}

# when a study was sealed, else when its first pass began
study_date <- function(study) {
  # a table does not say when it was
  at <- empty_to(study$sealed$at, stats::na.omit(study$passes$started)[1])
  if (is.na(empty_to(at, NA))) "unknown date" else substr(at, 1, 10)
}

#' What is not the same in the last two studies: dates, versions, what was recorded of the machine
#' @noRd
changed_between <- function(studies) {
  facts <- lapply(utils::tail(studies, 2), function(s) {
    told <- unlist(lapply(c(s$plan$machine, s$plan$conditions), fact_text))
    c(date = study_date(s), s$machine, told[setdiff(names(told), names(s$machine))])
  })
  # what changes from minute to minute says nothing of what was done to the machine
  fleeting <- "^(load|memory free|processors busy|processor clock|temperature|battery)"
  keys <- unique(unlist(lapply(facts, names)))
  keys <- keys[!grepl(fleeting, keys)]
  out <- data.frame(
    what = keys, before = empty_na(unname(facts[[1]][keys])), now = empty_na(unname(facts[[2]][keys])),
    row.names = NULL
  )
  out[out$before != out$now, , drop = FALSE]
}

changed_findings <- function(studies) {
  machine <- vapply(studies, function(s) empty_to(study_machine(s)$key, NA_character_), "")
  if (length(unique(stats::na.omit(machine))) > 1) new_finding("warning", "other_machine")
}

#' The level of each study over time, and where it changed by more than studies differ by themselves
#' @noRd
study_levels <- function(rows, studies, spec, primary) {
  rows <- rows[if (is.null(primary)) !rows$metric %in% names(known_sensor_metrics()) else rows$metric %in% primary, ]
  rows$arm <- as.character(rows$study)
  out <- describe_values(rows, as.character(seq_along(studies)), spec$confidence)
  out$study <- vapply(studies, study_name, "")[as.integer(out$arm)]
  out$at <- vapply(studies, study_date, "")[as.integer(out$arm)]
  out$change_point <- FALSE
  for (at in split(seq_len(nrow(out)), cell_key(out))) {
    at <- at[order(as.integer(out$arm[at]))]
    out$change_point[at] <- change_points(to_analysis(out$value[at], out$scale[at[1]]), spec$confidence)
  }
  out[c(
    "study", "at", "workload", "context", "metric", "unit", "scale", "better", "passes", "value", "lower", "upper",
    "change_point"
  )]
}

#' Where a series of studies left its level
#'
#' Each is predicted from those since the last change, of which there must be three.
#' @noRd
change_points <- function(level, confidence = 0.95) {
  out <- rep(FALSE, length(level))
  start <- 1
  alpha <- family_alpha(confidence, max(1, length(level) - 3))
  for (i in seq_along(level)) {
    before <- level[seq_len(i - 1)]
    before <- before[seq_along(before) >= start]
    k <- length(before)
    gap <- abs(level[i] - mean(before))
    if (k >= 3 && gap > t_reach(alpha, k - 1) * stats::sd(before) * sqrt(1 + 1 / k)) {
      out[i] <- TRUE
      start <- i
    }
  }
  out
}
