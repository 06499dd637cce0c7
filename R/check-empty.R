# Passes that are recorded as ok and gave nothing.

register("check", "empty", scope = "study", run = function(study) {
  silent <- setdiff(
    study$passes$pass[study$passes$outcome %in% c("ok", "artefact")], study$readings$pass[!is.na(study$readings$value)]
  )
  do.call(bind_findings, lapply(silent, function(pass) new_finding("warning", "empty", pass = pass)))
})
