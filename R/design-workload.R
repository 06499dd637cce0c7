# What a workload of a plan gives: frame times, scores, values typed by a person.

#' @return `TRUE` where frame times are expected of each pass.
#' @noRd
gives_frames <- function(workload) {
  !is.null(workload$frames) || isTRUE(workload$probe) || isTRUE(workload$beacon) ||
    grepl("{log}", empty_to(workload$command, ""), fixed = TRUE)
}

#' The numbers a pass gives beside its frame times: the scores named, else the
#' plan's own metrics, once for each segment
#' @return Data frame: `metric`, `segment` (`NA` for the whole pass).
#' @noRd
score_places <- function(plan, workload) {
  if (length(workload$scores)) {
    return(data.frame(
      metric = vapply(workload$scores, `[[`, "", "metric"),
      segment = vapply(workload$scores, function(s) empty_to(s$segment, NA_character_), "")
    ))
  }
  framed <- if (gives_frames(workload)) names(by_id(frame_metrics()))
  expand.grid(
    metric = setdiff(empty_to(plan_primary(plan), "score"), framed),
    segment = as.character(empty_to(unlist(workload$segments), NA)), stringsAsFactors = FALSE
  )
}

#' How many comparisons a workload makes per arm and context
#'
#' An anchor is looked at and not judged.
#' @param ids Primary metrics.
#' @noRd
workload_cells <- function(plan, workload, ids) {
  if (isTRUE(workload$anchor)) {
    return(0)
  }
  framed <- if (gives_frames(workload)) length(intersect(names(by_id(frame_metrics())), ids)) else 0
  # frame times alone are enough; further numbers count where the plan names them
  scored <- if (length(workload$scores) || !gives_frames(workload)) score_places(plan, workload)$metric
  framed * (1 + length(workload$segments)) + sum(scored %in% ids)
}
