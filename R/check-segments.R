# Segments that the plan names and no pass, or not every pass, has.

register("check", "segments", scope = "study", run = function(study) {
  planned <- plan_segments(study$plan)
  passes <- study$passes[ran_well(study$passes), , drop = FALSE]
  do.call(bind_findings, lapply(seq_len(nrow(planned)), function(i) {
    workload <- planned$workload[i]
    # the flips of a toggled session take the place of segments
    toggled <- workload %in% toggled_workloads(study$plan)
    ran <- if (!toggled) passes$pass[passes$workload == workload]
    here <- study$readings$workload == workload & study$readings$segment %in% planned$segment[i]
    without <- setdiff(ran, study$readings$pass[here & !is.na(study$readings$value)])
    if (length(without)) segment_finding(workload, planned$segment[i], ran, without)
  }))
})

segment_finding <- function(workload, segment, ran, without) {
  if (length(without) == length(ran)) {
    return(new_finding("warning", "segment_never", segment_name = segment, workload = workload))
  }
  new_finding("warning", "segment_missing",
    segment_name = segment, n = length(without), of = length(ran), passes = without, workload = workload
  )
}
