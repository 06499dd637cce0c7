# What a plan may say. The shape stands here once, as data; checking walks it.

plan_shape <- function() {
  text <- list(type = "text")
  flag <- list(type = "flag")
  number <- list(type = "number")
  count <- list(type = "count")
  free <- list(type = "map")
  texts <- list(type = "list", each = text)
  list(type = "map", required = c("setting", "arms", "workloads"), keys = list(
    study = text, question = text,
    setting = list(type = "map", required = c("name", "baseline"), keys = list(
      name = text, unit = text, ordered = flag, baseline = text, command = text, by_hand = text,
      restart = list(type = "word", words = c("nothing", "program", "machine")), one_way = flag,
      read_back = list(type = "map", keys = list(
        command = text, pattern = text, typed = flag, factor = number, tolerance = number
      ))
    )),
    arms = list(type = "list", each = list(type = "map", required = "value", keys = list(
      value = text, label = text, attributes = free, by_hand = text, expect = text
    ))),
    workloads = list(
      type = "list", each = list(type = "map", required = "id", keys = workload_keys(text, number, texts))
    ),
    metrics = list(type = "list", each = list(type = "map", required = "id", keys = list(
      id = text, label = text, unit = text, better = list(type = "word", words = c("higher", "lower")),
      scale = list(type = "word", words = c("percent", "absolute")), worth = number, primary = flag,
      definition = text, parts = texts, noise = number
    ))),
    context = list(type = "map", required = c("name", "levels"), keys = list(
      name = text, levels = texts, command = text, by_hand = text
    )),
    blocks = count, passes_per_block = count, warm_up = count,
    order = list(type = "word", words = c("shuffled", "mirrored", "balanced", "fixed")),
    confidence = number, seed = count,
    gates = list(type = "list", each = list(type = "map", keys = list(
      name = text, command = text, pattern = text, below = number, wait = number, pause = number
    ))),
    sensors = sensor_keys(text, number, free), exclusion_rules = texts, versions = free, variables = texts,
    machine = free, conditions = free, frames_layout = free
  ))
}

#' Check a plan against its shape
#'
#' @param value Nested list, as parsed.
#' @param line Named integer vector, key path -> line.
#' @param source File name for messages.
#' @return The plan with defaults filled in.
#' @noRd
check_plan <- function(value, line = integer(), source = "plan") {
  check_part(value, plan_shape(), "", line, source)
  arms <- vapply(value$arms, function(a) as.character(a$value), "")
  where <- function(path) plan_place(path, line, source)
  if (anyDuplicated(arms)) {
    abort_input(
      paste0("arm '", arms[duplicated(arms)][1], "' is given twice"), where("arms"),
      "each value of the setting once"
    )
  }
  baseline <- as.character(value$setting$baseline)
  if (!baseline %in% arms) {
    abort_input(
      paste0("baseline '", baseline, "' is none of the arms"), where("setting/baseline"),
      did_you_mean(baseline, arms)
    )
  }
  if (length(arms) < 2) {
    abort_input(
      "one arm only", where("arms"), "a comparison needs the baseline and at least one other arm"
    )
  }
  for (i in seq_along(value$workloads)) check_workload(value$workloads[[i]], where(paste0("workloads/", i)))
  check_sensors(value$sensors, where("sensors"))
  confidence <- empty_to(value$confidence, 0.95)
  if (confidence <= 0.5 || confidence >= 1) {
    abort_input("confidence must lie between 0.5 and 1", where("confidence"), "0.95 is the usual choice")
  }
  value$confidence <- confidence
  value$setting$baseline <- baseline
  value
}

check_part <- function(value, shape, path, line, source) {
  fail <- function(what, todo) {
    abort_input(paste0(if (nzchar(path)) paste0("'", path, "' "), what), plan_place(path, line, source), todo)
  }
  switch(shape$type,
    map = check_map(value, shape, path, line, source, fail),
    list = check_list(value, shape, path, line, source, fail),
    check_scalar(value, shape, fail)
  )
  invisible()
}

check_map <- function(value, shape, path, line, source, fail) {
  if (!is.list(value) || is.null(names(value))) fail("must hold 'key: value' lines", "indent the keys below it")
  if (is.null(shape$keys)) {
    return()
  }
  unknown <- setdiff(names(value), names(shape$keys))
  if (length(unknown)) {
    place <- plan_place(join_path(path, unknown[1]), line, source)
    abort_input(paste0("unknown key '", unknown[1], "'"), place, did_you_mean(unknown[1], names(shape$keys)))
  }
  missing <- setdiff(shape$required, names(value))
  if (length(missing)) fail(paste0("needs the key '", missing[1], "'"), paste0("add '", missing[1], ":'"))
  for (key in names(value)) check_part(value[[key]], shape$keys[[key]], join_path(path, key), line, source)
}

check_list <- function(value, shape, path, line, source, fail) {
  if (!length(value) || !is.null(names(value))) fail("must be a list", "start each entry with '- '")
  for (i in seq_along(value)) check_part(value[[i]], shape$each, join_path(path, i), line, source)
}

check_scalar <- function(value, shape, fail) {
  shown <- format(value)[1]
  switch(shape$type,
    text = if (length(value) != 1 || is.list(value)) fail("must be one value", "write it on the same line"),
    word = if (!isTRUE(value %in% shape$words)) {
      fail(paste0("cannot be '", shown, "'"), did_you_mean(shown, shape$words))
    },
    flag = if (!isTRUE(value) && !isFALSE(value)) fail("must be true or false", "write true or false"),
    number = if (!checkmate::test_number(value, lower = 0, finite = TRUE)) {
      fail("must be a number that is not negative", "write digits, without a unit")
    },
    count = if (!checkmate::test_count(value)) fail("must be a whole number", "write digits, without a unit")
  )
}

plan_place <- function(path, line, source) {
  while (nzchar(path) && !path %in% names(line)) path <- if (grepl("/", path)) sub("/[^/]*$", "", path) else ""
  c(source, if (nzchar(path)) paste("line", line[[path]]))
}

plan_arms <- function(plan) vapply(plan$arms, function(a) as.character(a$value), "")

# an anchor speaks only where the old state cannot come back
plan_anchors <- function(plan) {
  if (isTRUE(plan$setting$one_way)) {
    vapply(Filter(function(w) isTRUE(w$anchor), plan$workloads), `[[`, "", "id")
  }
}

plan_segments <- function(plan) {
  unlist(lapply(plan$workloads, function(w) if (length(w$segments)) segment_place(w$id, unlist(w$segments))))
}

#' Metrics as the plan describes them, on top of the built-in ones
#' @noRd
plan_metrics <- function(plan, known) {
  limits <- lapply(plan$sensors$limits, limit_metric)
  c(limits, lapply(plan$metrics, function(m) {
    base <- empty_to(
      by_id(known)[[m$id]], list(label = m$id, unit = "", better = NULL, scale = NULL, definition = "")
    )
    unit <- empty_to(m$unit, base$unit)
    better <- empty_to(m$better, empty_to(base$better, better_from_unit(unit)))
    if (is.na(better)) {
      abort_needed(
        paste0("is a higher or a lower '", m$id, "' better?"), "plan",
        "add better: higher or better: lower to that metric"
      )
    }
    new_metric(
      m$id, empty_to(m$label, base$label), unit, better,
      empty_to(m$scale, empty_to(base$scale, scale_from_unit(unit))),
      empty_to(m$definition, base$definition), base$compute
    )
  }))
}

#' Every metric by its id, the plan's own description first
#' @noRd
described_metrics <- function(plan) by_id(c(plan_metrics(plan, known_metrics()), known_metrics()))

plan_worth <- function(plan) {
  worth <- lapply(plan$metrics, `[[`, "worth")
  names(worth) <- vapply(plan$metrics, `[[`, "", "id")
  unlist(worth)
}

# no metric marked means that every metric named in the plan is primary
plan_primary <- function(plan) {
  ids <- vapply(plan$metrics, `[[`, "", "id")
  marked <- vapply(plan$metrics, function(m) isTRUE(m$primary), NA)
  if (!length(ids)) NULL else if (any(marked)) ids[marked] else ids
}
