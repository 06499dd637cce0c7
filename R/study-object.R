# The study that a user holds: its plan, passes, readings and findings, and the
# store that its traces lie in.

#' @noRd
new_study <- function(plan, passes, readings, findings, ceilings, limits, traces, store, sealed, conditions,
                      machine = NULL, search = NULL, pace = NULL) {
  structure(
    list(
      plan = plan, passes = passes, readings = readings, findings = findings, ceilings = ceilings, limits = limits,
      traces = traces, folder = store$folder, store = store, sealed = sealed, conditions = conditions,
      machine = machine, search = search, pace = pace
    ),
    class = "honestmargin_study"
  )
}

is_study <- function(x) inherits(x, "honestmargin_study")

#' What was captured of one pass of a study, or of one flip of it
#' @param pass One row of its passes.
#' @noRd
study_capture <- function(study, pass, kinds = c("frames", "sensors", "marks")) {
  # a flip is found by the marks of its pass
  if (!is.na(pass$part)) kinds <- c("frames", "sensors", "marks")
  capture <- if (inherits(study$store, "honestmargin_folder")) {
    store_capture(study$store, pass, kinds)
  } else {
    with_store(study$folder, function(store) store_capture(store, pass, kinds), write = FALSE)
  }
  part_of_capture(capture, study$plan, pass$part)
}

#' @return `TRUE` for each of some passes that has a trace of this kind.
#' @noRd
has_trace <- function(study, passes, kind) passes$pass %in% study$traces$pass[study$traces$kind == kind]
