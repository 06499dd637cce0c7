# The plan: checked once, with every default filled in, so that nothing later asks
# whether a key is there.

#' @param value Nested list, as parsed from YAML. @param line Named integer vector, key path -> line.
#' @param source File name for messages. @param text The text that is sealed.
#' @return An object of class `honestmargin_plan`, a nested list with the keys of `plan-keys.R`.
#' @noRd
new_plan <- function(value, line = integer(), source = "plan", text = NULL) {
  assert_plan_keys(value, line, source)
  plan <- fill_map(value, "")
  where <- function(path) plan_place(path, line, source)
  if (!is.null(value$screen)) {
    plan <- fill_screen(plan, where)
  } else if (!is.null(value$search)) {
    plan <- fill_search(plan, where)
  } else if (!length(plan$arms)) {
    abort_input(
      "needs the key 'arms'", where(""),
      "add 'arms:', or 'search:' where a value is looked for, or 'screen:' for many options"
    )
  }
  # a workload by hand may run on another machine: sensors of this one only where asked for
  plan$sensors$asked <- !is.null(value$sensors)
  if (!is.null(plan$setting$baseline)) plan$setting$baseline <- arms_as_planned(plan$setting$baseline, plan)
  # one arm alone is described, not compared
  if (length(plan$arms) == 1) plan$setting$baseline <- empty_to(plan$setting$baseline, plan_arms(plan))
  assert_plan_sense(plan, where)
  structure(plan, class = "honestmargin_plan", text = text)
}

# `maps` that are absent become empty lists, maps stay absent (a plan without context),
# but for those that have defaults for all
fill_map <- function(value, place) {
  for (name in plan_children(place)) {
    key <- plan_key_at(place, name)
    value[[name]] <- fill_key(value[[name]], key, join_path(place, name))
  }
  value
}

fill_key <- function(value, key, place) {
  switch(key$type,
    map = if (!is.null(value) || place == "sensors") fill_map(empty_to(value, list()), place),
    maps = lapply(value, fill_map, place = join_path(place, "*")),
    texts = show_exact(unlist(value), 15),
    text = if (is.null(value)) key$default else show_exact(value, 15),
    command = if (is.list(value)) vapply(value, as.character, "") else value,
    number = ,
    count = if (is.null(value)) key$default else number_of_plan(value),
    if (is.null(value)) key$default else value
  )
}

# the parser leaves a number as it was written where R would write it otherwise
number_of_plan <- function(value) {
  read <- if (is.character(value) && length(value) == 1) suppressWarnings(as.numeric(value)) else value
  if (anyNA(read)) value else read
}

plan_arms <- function(plan) vapply(plan$arms, `[[`, "", "value")
plan_workloads <- function(plan) vapply(plan$workloads, `[[`, "", "id")
plan_contexts <- function(plan) if (is.null(plan$context)) NA_character_ else plan$context$levels

workload_of <- function(plan, id) {
  still_planned(Filter(function(w) w$id == id, plan$workloads), "workload", id)
}

arm_of <- function(plan, value) {
  still_planned(Filter(function(a) a$value == arms_as_planned(value, plan), plan$arms), "arm", value)
}

#' Arms of a record as the plan writes them: a table that passed through a spreadsheet says 560.1 where 560.10 ran
#' @noRd
arms_as_planned <- function(arm, plan) {
  planned <- plan_arms(plan)
  number <- function(text) suppressWarnings(as.numeric(text))
  for (other in setdiff(arm, c(planned, NA))) {
    same <- if (!is.na(number(other))) planned[number(planned) %in% number(other)]
    if (length(same) == 1) arm[arm %in% other] <- same
  }
  arm
}

# the schedule was sealed; the plan may have been changed since
still_planned <- function(found, word, id) {
  if (!length(found)) {
    abort_input(paste0("the sealed schedule has the ", word, " '", id, "', which is no longer in the plan"),
      todo = "put it back, or start a new study folder"
    )
  }
  found[[1]]
}

# an anchor speaks only where the old state cannot come back
plan_anchors <- function(plan) {
  if (plan$setting$one_way) plan_workloads(plan)[vapply(plan$workloads, `[[`, NA, "anchor")]
}

#' Named segments of a plan
#' @return Data frame `workload`, `segment`.
#' @noRd
plan_segments <- function(plan) {
  data.frame(
    workload = rep(plan_workloads(plan), lengths(lapply(plan$workloads, `[[`, "segments"))),
    segment = as.character(unlist(lapply(plan$workloads, `[[`, "segments")))
  )
}

#' Metrics as the plan describes them, on top of the built-in ones
#' @noRd
plan_metrics <- function(plan, known = known_metrics()) {
  limits <- lapply(plan$sensors$limits, limit_metric)
  c(limits, lapply(plan$metrics, function(m) {
    base <- empty_to(empty_to(known[[m$id]], floor_by_id(m$id)), list(
      label = m$id, unit = "", better = NULL, scale = NULL, definition = "", tail = NA, hidden = "never",
      zero = FALSE, counts = "no"
    ))
    unit <- empty_to(m$unit, base$unit)
    better <- empty_to(m$better, empty_to(base$better, better_in_plans(unit)))
    if (is.na(better)) {
      abort_needed(
        paste0("is a higher or a lower '", m$id, "' better?"), "plan",
        "add better: higher or better: lower to that metric"
      )
    }
    new_metric(
      m$id, empty_to(m$label, base$label), unit, better,
      empty_to(m$scale, empty_to(base$scale, scale_from_unit(unit))),
      empty_to(m$definition, base$definition),
      compute = base$compute, tail = base$tail, hidden = base$hidden, zero = base$zero, counts = base$counts
    )
  }))
}

# time below any whole rate can be asked for
floor_by_id <- function(id) if (grepl("^below_[0-9]+$", id)) floor_metric(as.integer(sub("^below_", "", id)))

plan_floors <- function(plan) {
  ids <- vapply(plan$metrics, `[[`, "", "id")
  union(c(30L, 60L), as.integer(sub("^below_", "", grep("^below_[0-9]+$", ids, value = TRUE))))
}

#' Every metric by its id, the plan's own description first
#' @noRd
described_metrics <- function(plan) {
  known <- known_metrics()
  c(if (!is.null(plan)) by_id(plan_metrics(plan, known)), known)
}

plan_worth <- function(plan) {
  worth <- lapply(plan$metrics, `[[`, "worth")
  names(worth) <- vapply(plan$metrics, `[[`, "", "id")
  unlist(worth)
}

# no metric marked means that every metric named in the plan is primary
plan_primary <- function(plan) {
  ids <- vapply(plan$metrics, `[[`, "", "id")
  marked <- vapply(plan$metrics, `[[`, NA, "primary")
  if (!length(ids)) NULL else if (any(marked)) ids[marked] else ids
}

#' What tellers need to know beside a table: the question, names and units
#' @noRd
plan_labels <- function(plan) {
  arms <- if (!is.null(plan)) plan_arms(plan)
  list(
    question = empty_to(plan$question, ""), setting = empty_to(plan$setting$name, "setting"),
    unit = empty_to(plan$setting$unit, ""), arms = unlist(stats::setNames(lapply(plan$arms, `[[`, "label"), arms)),
    context = empty_to(plan$context$name, ""),
    metrics = vapply(described_metrics(plan), `[[`, "", "label")
  )
}
