# What each workload of a plan gives.

#' @return Ids of the workloads in which the setting is flipped while they run.
#' @noRd
toggled_workloads <- function(plan) {
  plan_workloads(plan)[!vapply(plan$workloads, function(w) is.null(w$toggle), NA)]
}

#' @return `TRUE` where frame times are expected of each pass.
#' @noRd
gives_frames <- function(workload) workload$probe || workload$beacon || writes_log(workload)

#' @return `TRUE` where no number is expected of a pass: it is judged by how it ends.
#' @noRd
judged_by_outcome <- function(workload, plan) {
  silent <- !length(workload$scores) && !gives_frames(workload)
  asked <- setdiff(plan_primary(plan), names(known_outcome_metrics()))
  # what is judged blind by the one who plays it needs no number
  needs_none <- !is.null(workload$command) || !is.null(workload$judge) || (length(plan$metrics) && !length(asked))
  workload$outcome_only || (silent && needs_none)
}

writes_log <- function(workload) {
  !is.null(workload$frames) || any(grepl("{log}", workload$command, fixed = TRUE))
}

#' The numbers a pass gives beside its frame times: the scores named, else the
#' plan's own metrics, once for each segment
#' @return Data frame: `metric`, `segment` (`NA` for the whole pass).
#' @noRd
score_places <- function(plan, workload) {
  if (length(workload$scores)) {
    return(list2DF(list(
      metric = vapply(workload$scores, `[[`, "", "metric"),
      segment = vapply(workload$scores, function(s) empty_to(s$segment, NA_character_), "")
    )))
  }
  # what sensors and frame logs give, and how passes end, is not typed
  framed <- c(
    names(known_sensor_metrics()), names(known_outcome_metrics()),
    if (gives_frames(workload)) names(known_frame_metrics())
  )
  expand.grid(
    metric = if (judged_by_outcome(workload, plan)) {
      character()
    } else {
      setdiff(empty_to(plan_primary(plan), "score"), framed)
    },
    segment = if (length(workload$segments)) workload$segments else NA_character_, stringsAsFactors = FALSE
  )
}

#' How many comparisons a workload makes per arm and context
#'
#' An anchor is looked at and not judged.
#' @param ids Primary metrics.
#' @noRd
workload_cells <- function(workload, plan, ids) {
  if (workload$anchor) {
    return(0)
  }
  ended <- length(union(
    intersect(names(known_outcome_metrics()), ids), if (judged_by_outcome(workload, plan)) "failed"
  ))
  framed <- if (gives_frames(workload)) length(intersect(names(known_frame_metrics()), ids)) else 0
  # frame times alone are enough; further numbers count where the plan names them
  scored <- if (length(workload$scores) || !gives_frames(workload)) score_places(plan, workload)$metric
  ended + framed * (1 + length(workload$segments)) + sum(scored %in% ids)
}

#' How long a pass may take, in seconds
#' @noRd
time_limit <- function(workload) empty_to(workload$time_limit, 10 * empty_to(workload$seconds, 360) + 60)

# "arm 1000 Hz" and "arm 1000" are the same; `NA` for what is no arm
flipped_arms <- function(plan, labels) {
  known <- plan_arms(plan)
  unit <- plan$setting$unit
  bare <- ifelse(nzchar(unit) & endsWith(labels, unit), trimws(substr(labels, 1, nchar(labels) - nchar(unit))), labels)
  ifelse(labels %in% known, labels, ifelse(bare %in% known, bare, NA_character_))
}
