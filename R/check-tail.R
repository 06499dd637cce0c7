# Lows and high percentiles rest on few frames; below ten they jump.

#' @param readings Completed readings that hold the metric `frames`.
#' @return Findings, one per workload and tail metric.
#' @noRd
tail_findings <- function(readings) {
  frames <- readings[readings$metric == "frames" & is_counted(readings), c("pass", "workload", "value")]
  if (!nrow(frames)) {
    return(no_findings())
  }
  rows <- lapply(intersect(names(tail_shares), readings$metric), function(id) {
    behind <- tapply(frames$value * tail_shares[[id]], frames$workload, stats::median)
    thin <- names(behind)[behind < 10]
    lapply(thin, function(workload) {
      new_finding("warning", "tail",
        paste0("about ", max(1, round(behind[[workload]])), " frames lie behind ", id, " in each pass; fewer than 10 make it jump between passes"),
        "run longer passes, or judge by a metric that rests on more frames", workload = workload, metric = id)
    })
  })
  do.call(bind_findings, unlist(rows, recursive = FALSE))
}
