# Lows and high percentiles rest on few frames; below ten they jump.

#' @param readings Completed readings that hold the metric `frames`.
#' @return Findings, one per workload with all its thin metrics.
#' @noRd
tail_findings <- function(readings) {
  frames <- readings[readings$metric == "frames" & is_counted(readings), c("workload", "value")]
  if (!nrow(frames)) {
    return(no_findings())
  }
  usual <- tapply(frames$value, frames$workload, stats::median)
  tails <- tail_shares[intersect(names(tail_shares), readings$metric)]
  do.call(bind_findings, lapply(names(usual), function(workload) {
    behind <- usual[[workload]] * tails
    thin <- behind[behind < 10]
    if (!length(thin)) {
      return(NULL)
    }
    new_finding("warning", "tail",
      paste0(
        "only about ", max(1, round(min(thin))), " frames of a pass lie behind ", some_of(names(thin), 9),
        "; fewer than 10 make it jump between passes"
      ),
      "run longer passes, or judge by a metric that rests on more frames",
      workload = workload, metric = paste(names(thin), collapse = ", ")
    )
  }))
}
