# What is asked of the passes: by the plan, else by the call.

#' How passes are weighed
#'
#' @param x A study or readings. @param plan,asked,declared As in `weigh_once()`. @param readings Those of `x`.
#' @return From `new_contrast_spec()`.
#' @noRd
contrast_spec <- function(x, plan, readings, asked = list(), declared = list()) {
  planned <- if (!is.null(plan)) plan_arms(plan)
  arms <- arm_order(c(readings$arm, planned), planned)
  named <- empty_to(asked$baseline, empty_to(plan$setting$baseline, attr(readings, "said_baseline")))
  steps <- if (is_steps(declared$against)) step_order(declared$against, arms, planned, readings)
  # steps begin with the first arm
  if (length(steps)) named <- empty_to(named, steps[1])
  baseline <- show_exact(named, 15)
  assert_baseline(baseline, arms, readings)
  # how a metric is told decides which worth is its own
  scaled <- rescale_nonpositive(readings)
  new_contrast_spec(
    baseline = baseline, arms = arms, worth = worth_by_metric(asked$worth, plan_worth(plan), scaled),
    # what was sealed by an older method keeps it
    own_noise = isTRUE(declared$own_noise) || (is_study(x) && isTRUE(x$sealed$method < 2)),
    steady = isTRUE(declared$steady), stored = declared$noise, looks = isTRUE(declared$looks),
    most_units = declared$most_units, pairs = asked_pairs(declared$against, arms, baseline, arms_described(x), steps),
    confidence = empty_to(asked$confidence, empty_to(plan$confidence, 0.95)),
    primary = assert_metrics(asked$primary, readings, "primary", plan_primary(plan)),
    listed = vapply(plan$metrics, `[[`, "", "id"),
    # what the setting itself holds back is its effect, and hides nothing
    ceilings = if (is_study(x) && !any(
      declared$no_limiter, declared$setting_limits, plan$setting$limits
    )) x$ceilings,
    anchors = if (!is.null(plan)) plan_anchors(plan),
    planned = !is.null(plan), one_way = isTRUE(plan$setting$one_way),
    segments = if (is.null(plan)) no_segments() else plan_segments(plan),
    beside = if (!is.null(plan)) names(known_sensor_metrics())
  )
}

#' The pairs that are compared, where not all with the baseline
#' @noRd
asked_pairs <- function(against, arms, baseline, described, steps = NULL) {
  if (length(steps)) {
    # in each place each with the one before it that ran there
    return(function(here) step_pairs(intersect(steps, here)))
  }
  switch(empty_to(against, "baseline"),
    all = all_pairs(arms, baseline),
    attributes = {
      table <- if (!is.null(described)) attribute_table(described)
      sets <- if (NCOL(table) > 0) attribute_pairs(table, plan_arms(described), baseline)
      if (!length(sets)) {
        abort_input("no two arms differ in exactly one attribute",
          todo = paste(
            "name what the arms are made of (attributes: in the plan; of a table --columns attribute=HEADING), or",
            "compare them all (--against all)"
          )
        )
      }
      sets
    }
  )
}

#' Where it stands what the arms are made of: the plan, or what a table said of them in the form of one
#' @return `NULL` where nothing does.
#' @noRd
arms_described <- function(x) {
  if (is_study(x)) {
    return(x$plan)
  }
  arms <- attr(readings_of(x), "arms")
  if (!is.null(arms)) list(setting = list(name = "setting", baseline = NULL), arms = arms)
}

# each arm against the one before it: "previous", or the arms in the order of the steps
is_steps <- function(against) identical(against, "previous") || length(against) > 1

#' The arms in the order in which they were taken
#'
#' As named; else the plan's; else that of numbers; else that of the rows, if they name the arms in one order
#' throughout.
#' @noRd
step_order <- function(against, arms, planned, readings) {
  if (length(against) > 1) {
    unknown <- setdiff(against, arms)
    if (length(unknown)) {
      abort_input(paste0("there is no arm '", unknown[1], "'"), "against", did_you_mean(unknown[1], arms))
    }
    return(against)
  }
  if (length(planned) || !anyNA(suppressWarnings(as.numeric(arms)))) {
    return(arms)
  }
  rows <- plain_table(readings)
  if (!anyNA(rows$order)) rows <- rows[order(rows$order), , drop = FALSE]
  key <- paste(rows$workload, rows$context, rows$block, sep = "\r")
  each <- lapply(split(rows$arm, key), function(ran) rle(ran[!is.na(ran)])$values)
  # once, or in rounds of the same order
  if (all(vapply(each, function(ran) identical(ran, rep_len(intersect(arms, ran), length(ran))), NA))) {
    return(arms)
  }
  abort_needed("the rows name the arms in more than one order",
    todo = paste0(
      "say in which order the steps were taken: --against ", as_typed(paste(arms, collapse = ",")),
      " (in R: against =), in the order that is right"
    )
  )
}

assert_baseline <- function(baseline, arms, readings) {
  if (length(arms) < 2) {
    abort_input("one arm only, so there is nothing to compare",
      todo = "describe it: honestmargin describe (in R: describe_passes()); or add passes of another arm"
    )
  }
  if (!length(baseline)) {
    abort_needed(
      "name the baseline",
      todo = paste0("--baseline ", as_typed(arms[1]), " (in R: baseline =); arms: ", some_of(arms, 12))
    )
  }
  if (!baseline %in% arms) {
    abort_input(paste0("baseline '", baseline, "' is none of the arms"), todo = did_you_mean(baseline, arms))
  }
  if (nrow(readings) && !any(readings$better != "none")) {
    abort_needed(
      "no metric with a direction",
      todo = "say which direction is better, in a column better or with --better"
    )
  }
}

# a primary metric without a value would make the family smaller without a word
assert_judged <- function(primary, readings) {
  has <- c(unique(readings$metric[!is.na(readings$value)]), names(known_outcome_metrics()))
  missing <- setdiff(primary, has)
  if (length(missing)) {
    abort_input(
      paste0("no pass has a value of the primary metric '", missing[1], "'"),
      todo = paste0(did_you_mean(missing[1], has), "; or is it still to be run?")
    )
  }
}

assert_metrics <- function(ids, readings, word, default = NULL) {
  unknown <- setdiff(ids, c(readings$metric, names(known_outcome_metrics())))
  if (length(unknown)) {
    abort_input(
      paste0(word, " names '", unknown[1], "', which is no metric here"),
      todo = did_you_mean(unknown[1], unique(readings$metric))
    )
  }
  if (is.null(ids)) default else ids
}

# One number alone is a percentage, as testers say it; it reaches metrics told
# in their own unit only where there are no others.
worth_by_metric <- function(worth, planned, readings) {
  if (is.null(worth)) {
    return(planned)
  }
  checkmate::assert_numeric(worth, lower = 0, finite = TRUE, any.missing = FALSE, min.len = 1)
  if (is.null(names(worth))) {
    checkmate::assert_number(worth)
    percent <- unique(readings$metric[readings$scale == "percent"])
    ids <- if (length(percent)) percent else unique(readings$metric)
    worth <- stats::setNames(rep(worth, length(ids)), ids)
  }
  assert_metrics(names(worth), readings, "worth")
  c(worth, planned[setdiff(names(planned), names(worth))])
}
