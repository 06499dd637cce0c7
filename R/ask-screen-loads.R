# What an option of a screening costs besides: the change of each load.

screen_loads <- c(
  processor = "processor_load_mean", one_thread = "busiest_core_load_mean", graphics = "graphics_load_mean",
  memory = "memory_used_mean"
)

# what an option costs besides: the change of each load, where sensors ran in every pass that counts
load_columns <- function(x, out, plan) {
  levels <- screen_levels(plan)
  rows <- plain_table(x$readings)
  rows <- rows[is_counted(rows) & is.na(rows$segment) & rows$arm %in% rownames(levels), , drop = FALSE]
  columns <- lapply(screen_loads, function(id) {
    mine <- rows[rows$metric == id, , drop = FALSE]
    blank <- data.frame(change = rep(NA_real_, nrow(out)), lower = NA_real_, upper = NA_real_)
    for (workload in unique(mine$workload)) {
      here <- mine[mine$workload == workload, , drop = FALSE]
      found <- screen_effects(here$value, here$block, levels[here$arm, , drop = FALSE], here$arm)$effects
      range <- interval_about(found$estimate, t_reach(0.05, pmax(1, found$df)) * found$se)
      at <- match(paste(out$workload, out$option), paste(workload, found$option))
      blank[!is.na(at), ] <- cbind(found$estimate, range$lower, range$upper)[at[!is.na(at)], ]
    }
    blank
  })
  columns <- columns[vapply(columns, function(c) any(!is.na(c$lower)), NA)]
  if (length(columns)) {
    do.call(cbind, lapply(names(columns), function(name) {
      stats::setNames(columns[[name]], c(name, paste0(name, "_lower"), paste0(name, "_upper")))
    }))
  } else {
    data.frame(row.names = seq_len(nrow(out)))
  }
}

# "graphics -12, memory -310": what an option changes surely, each by itself
load_words <- function(row, loads) {
  lower <- unlist(row[paste0(loads, "_lower")])
  upper <- unlist(row[paste0(loads, "_upper")])
  surely <- which(lower > 0 | upper < 0)
  if (all(is.na(lower))) {
    return("")
  }
  if (!length(surely)) {
    return("the same")
  }
  paste(gsub("_", " ", loads[surely]), show_change(unlist(row[loads[surely]]), "absolute"), collapse = ", ")
}
