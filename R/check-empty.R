# Passes that are recorded as ok and gave nothing, where a number was expected.

register("check", "empty", scope = "study", run = function(study) {
  by_end <- plan_workloads(study$plan)[vapply(study$plan$workloads, judged_by_outcome, NA, plan = study$plan)]
  expected <- study$passes$outcome %in% outcomes_well & !study$passes$workload %in% by_end
  # what cannot be read is told by who tried
  told <- study$captured$pass[study$captured$code == "unreadable"]
  silent <- setdiff(study$passes$pass[expected], c(study$readings$pass[!is.na(study$readings$value)], told))
  do.call(bind_findings, lapply(silent, function(pass) new_finding("warning", "empty", pass = pass)))
})
