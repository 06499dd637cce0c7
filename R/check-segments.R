# Segments that the plan names and no pass, or not every pass, has.

#' @param plan A plan.
#' @param passes,readings Of the study.
#' @return Findings, one per segment that is missing somewhere.
#' @noRd
missing_segments <- function(plan, passes, readings) {
  passes <- passes[ran_well(passes), , drop = FALSE]
  found <- lapply(plan$workloads, function(workload) {
    ran <- passes$pass[passes$workload == workload$id]
    # the flips of a toggled session take the place of segments
    segments <- if (is.null(workload$toggle) && length(ran)) unlist(workload$segments)
    do.call(bind_findings, lapply(segments, function(segment) {
      has <- readings$pass[readings$workload == segment_place(workload$id, segment) & !is.na(readings$value)]
      segment_finding(workload$id, segment, ran, setdiff(ran, has))
    }))
  })
  do.call(bind_findings, found)
}

segment_finding <- function(workload, segment, ran, without) {
  if (!length(without)) {
    return(NULL)
  }
  where <- if (length(without) == length(ran)) {
    "in every pass"
  } else {
    paste0("in ", length(without), " of ", count_of(length(ran), "pass", "passes"), " (", some_of(without), ")")
  }
  new_finding("warning", "segments", paste0(workload, ": the segment ", segment, " is missing ", where),
    "was its mark set while the pass ran? what is missing is in no verdict",
    workload = workload
  )
}
