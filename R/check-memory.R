# Memory that was full, and a device that should have worked.

register("check", "memory", scope = "study", run = function(study) {
  full <- study$limits[study$limits$limiting == "graphics memory", , drop = FALSE]
  most <- whole_counted(study, "swap_used_max")
  grown <- most - whole_counted(study, "swap_used_min")[names(most)]
  # a few pages go out on any machine
  grown <- grown[which(grown > 64)]
  bind_findings(
    memory_finding("memory_full", full$pass, study, share = stats::median(full$share)),
    memory_finding("swapped", names(grown), study, MB = max(0, grown))
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

# of the passes that count
whole_counted <- function(study, metric) {
  values <- whole_values(study, metric)
  values[names(values) %in% counted_passes(study)]
}

register("check", "idle_device", scope = "study", run = function(study) {
  loads <- unique(grep("^graphics(_[^_]+)?_load_mean$", study$readings$metric, value = TRUE))
  if (length(loads) < 2) {
    return(no_findings())
  }
  mean_load <- vapply(loads, function(m) stats::median(whole_counted(study, m), na.rm = TRUE), 1)
  idle <- loads[which(mean_load < 5)]
  if (length(idle) && any(mean_load > 50, na.rm = TRUE)) {
    new_finding("note", "idle_device",
      idle = series_words(sub("_load_mean$", "", idle)),
      busy = series_words(sub("_load_mean$", "", loads[which.max(mean_load)])), load = max(mean_load, na.rm = TRUE)
    )
  }
})
