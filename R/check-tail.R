# Lows and high percentiles rest on few frames; below ten they jump.

register("check", "tail", scope = "study", run = function(study) {
  readings <- study$readings
  frames <- readings[readings$metric == "frames" & is_counted(readings), c("workload", "segment", "value")]
  if (!nrow(frames)) {
    return(no_findings())
  }
  tails <- tail_shares()
  tails <- tails[intersect(names(tails), readings$metric)]
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(frames)), frames$workload, frames$segment), function(at) {
    behind <- stats::median(frames$value[at]) * tails
    thin <- behind[behind < 10]
    if (length(thin)) {
      new_finding("warning", "tail",
        frames = unname(pmax(1, round(thin))), metrics = names(thin), workload = frames$workload[at[1]],
        segment = frames$segment[at[1]], metric = if (length(thin) == 1) names(thin) else NA
      )
    }
  }))
})
