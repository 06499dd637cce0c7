# Passes that are recorded as ok and gave nothing, where a number was expected.

register("check", "empty", scope = "study", run = function(study) {
  by_end <- plan_workloads(study$plan)[vapply(study$plan$workloads, judged_by_outcome, NA, plan = study$plan)]
  expected <- study$passes$outcome %in% outcomes_well & !study$passes$workload %in% by_end
  silent <- setdiff(study$passes$pass[expected], study$readings$pass[!is.na(study$readings$value)])
  do.call(bind_findings, lapply(silent, function(pass) new_finding("warning", "empty", pass = pass)))
})
