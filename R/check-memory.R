# Memory that was full, and a device that should have worked.

register("check", "memory", scope = "study", run = function(study) {
  full <- study$limits[study$limits$limiting == "graphics memory", , drop = FALSE]
  swap <- wide_sensor(study, c("swap_used_min", "swap_used_max"))
  # a few pages go out on any machine
  grown <- swap[which(swap$swap_used_max - swap$swap_used_min > 64), , drop = FALSE]
  bind_findings(
    memory_finding("memory_full", full$pass, study, share = stats::median(full$share)),
    memory_finding("swapped", grown$pass, study, MB = max(0, grown$swap_used_max - grown$swap_used_min))
  )
})

memory_finding <- function(code, pass, study, ...) {
  passes <- study$passes[study$passes$pass %in% pass & ran_well(study$passes), , drop = FALSE]
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(passes)), passes$workload), function(at) {
    here <- passes[at, , drop = FALSE]
    all <- study$passes[study$passes$workload == here$workload[1] & ran_well(study$passes), , drop = FALSE]
    new_finding("warning", code,
      n = length(unique(here$pass)), of = length(unique(all$pass)), ..., arms = arm_order(here$arm),
      some_only = length(unique(here$arm)) < length(unique(all$arm)), workload = here$workload[1]
    )
  }))
}

# sensor metrics of whole passes, a column each
wide_sensor <- function(study, metrics) {
  rows <- study$readings[is.na(study$readings$segment) & is.na(study$readings$part), , drop = FALSE]
  rows <- rows[is_counted(rows) & rows$metric %in% metrics, , drop = FALSE]
  pass <- unique(rows$pass)
  values <- lapply(stats::setNames(nm = metrics), function(m) {
    own <- rows[rows$metric == m, , drop = FALSE]
    own$value[match(pass, own$pass)]
  })
  cbind(data.frame(pass = pass), as.data.frame(values))
}

register("check", "idle_device", scope = "study", run = function(study) {
  loads <- unique(grep("^graphics(_[^_]+)?_load_mean$", study$readings$metric, value = TRUE))
  if (length(loads) < 2) {
    return(no_findings())
  }
  load <- wide_sensor(study, loads)
  mean_load <- vapply(loads, function(m) stats::median(load[[m]], na.rm = TRUE), 1)
  idle <- loads[which(mean_load < 5)]
  if (length(idle) && any(mean_load > 50, na.rm = TRUE)) {
    new_finding("note", "idle_device",
      idle = series_words(sub("_load_mean$", "", idle)),
      busy = series_words(sub("_load_mean$", "", loads[which.max(mean_load)])), load = max(mean_load, na.rm = TRUE)
    )
  }
})
