# The workloads of a plan: what they may say, and what each gives.

workload_keys <- function(text, number, texts) {
  list(
    id = text, title = text, kind = list(type = "word", words = c("scripted", "timed", "free")),
    seconds = number, note = text, command = text, by_hand = text, time_limit = number, settle = number,
    segments = texts, frames = text, probe = list(type = "flag"), beacon = list(type = "flag"),
    toggle = list(type = "map", keys = list(settle = number)), anchor = list(type = "flag"), seed = text,
    scores = list(type = "list", each = list(type = "map", required = "metric", keys = list(
      metric = text, segment = text, from = list(type = "word", words = c("output", "file", "clock")), pattern = text,
      json = text, file = text
    )))
  )
}

check_workload <- function(workload, place) {
  named <- unlist(lapply(workload$scores, `[[`, "segment"))
  unknown <- setdiff(named, unlist(workload$segments))
  if (length(unknown)) {
    abort_input(
      paste0("a score of workload '", workload$id, "' names the segment '", unknown[1], "', which it does not have"),
      place,
      if (length(workload$segments)) did_you_mean(unknown[1], workload$segments) else "add segments: [...] to it"
    )
  }
  if (!is.null(workload$toggle) && !isTRUE(workload$beacon)) {
    abort_input(
      paste0("workload '", workload$id, "' is toggled, but nothing tells when"), place,
      "add beacon: true; each flip is told by a line 'arm VALUE' (docs/beacon.md)"
    )
  }
}

#' What a reading of a segment has in the column `workload`
#' @noRd
segment_place <- function(workload, segment) {
  ifelse(is.na(segment), workload, paste0(workload, "/", segment))
}

#' A reading by the name under which it is typed and told: "harbour/time" for a segment
#' @param place What it has in the column `workload`. @param workload That of its pass.
#' @noRd
reading_name <- function(place, workload, metric) {
  paste0(ifelse(place == workload, "", paste0(substring(place, nchar(workload) + 2), "/")), metric)
}

#' @return Ids of the workloads in which the setting is flipped while they run.
#' @noRd
toggled_workloads <- function(plan) {
  as.character(unlist(lapply(plan$workloads, function(w) if (!is.null(w$toggle)) w$id)))
}

#' @return `TRUE` where frame times are expected of each pass.
#' @noRd
gives_frames <- function(workload) isTRUE(workload$probe) || isTRUE(workload$beacon) || writes_log(workload)

writes_log <- function(workload) {
  !is.null(workload$frames) || grepl("{log}", empty_to(workload$command, ""), fixed = TRUE)
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
