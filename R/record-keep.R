# From what was captured of a pass to what a store keeps of it; the same for passes
# that ran here and for logs and numbers from elsewhere.

#' @param captured A list: `frames`, `marks`, `sensors`, `windows`, `found` (findings); any may be
#'   missing. @param typed Readings that were typed or scored, from `typed_readings()`.
#' @return A list: `readings`, `traces`, `piles`, `parts`, `limits`, `pace`, `findings` (for `store_end()`), `seconds`.
#' @noRd
keep_capture <- function(store, plan, pass, captured, typed = NULL) {
  capture <- new_capture(pass, captured$frames, captured$marks, captured$sensors, captured$windows,
    findings = empty_to(captured$found, no_findings())
  )
  summary <- summarise_capture(capture, trimmed_as_sealed(store, plan, empty_to(pass$batch, 1L)))
  worked_out <- summary$readings
  if (NROW(worked_out)) worked_out$origin <- "captured"
  list(
    readings = stack_rows(list(typed, worked_out)), traces = store_put_capture(store, capture), piles = summary$piles,
    parts = summary$parts, limits = summary$limits, pace = summary$pace, findings = summary$findings,
    seconds = summary$seconds
  )
}

# passes of one batch are trimmed alike: as their plan was sealed, whatever it says since
trimmed_as_sealed <- function(store, plan, batch) {
  sealed <- store_plan(store, batch)
  for (i in seq_along(plan$workloads)) {
    at <- match(plan$workloads[[i]]$id, plan_workloads(sealed))
    if (!is.na(at)) plan$workloads[[i]]$trim <- sealed$workloads[[at]]$trim
  }
  plan
}

#' Rows for numbers that were typed or scored
#' @param places Data frame `metric`, `segment`. @param value One number each.
#' @noRd
typed_readings <- function(plan, places, value, better = NA_character_) {
  described <- described_metrics(plan)
  unit <- vapply(places$metric, function(id) empty_to(described[[id]]$unit, NA_character_), "", USE.NAMES = FALSE)
  each <- function(x) rep_len(x, nrow(places))
  list2DF(list(
    part = each(NA_integer_), segment = as.character(places$segment), metric = as.character(places$metric),
    value = each(value), unit = unit, better = each(better), origin = each("typed")
  ))
}

#' A reading by the name under which it is typed and told: "harbour/time" for a segment
#' @noRd
typed_name <- function(segment, metric) ifelse(is.na(segment), metric, paste0(segment, "/", metric))

#' What a tester means by a typed name: a metric, or a segment and a metric
#'
#' A metric of the tester's own may have a stroke in its name, so whole names come first.
#' @return Data frame `metric`, `segment`.
#' @noRd
typed_places <- function(names, known) {
  split <- !names %in% known & grepl("/", names, fixed = TRUE)
  data.frame(
    metric = ifelse(split, sub("^.*/", "", names), names),
    segment = ifelse(split, sub("/[^/]*$", "", names), NA_character_)
  )
}
