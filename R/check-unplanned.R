# Arms and workloads that the plan does not name.

register("check", "unplanned", scope = "study", run = function(study) {
  arms <- setdiff(study$passes$arm, plan_arms(study$plan))
  workloads <- setdiff(study$passes$workload, plan_workloads(study$plan))
  bind_findings(
    if (length(arms)) new_finding("warning", "unplanned_arm", arms = arms, arm = arms[1]),
    if (length(workloads)) new_finding("warning", "unplanned_workload", workloads = workloads, workload = workloads[1])
  )
})
