# Logs that were grouped by their names, written down as a study folder.

# what is judged of logs, as it stands in a plan
logs_judged <- function(found) {
  primary <- if (logs_hold(found) == "rates") "frame_rate_mean" else c("fps_avg", "low1_quantile")
  paste0("  - {id: ", primary, ", primary: true}")
}

#' @param judged Lines of the plan's metrics. @param findings Of their reading.
#' @noRd
write_named_study <- function(found, arms, baseline, layout, folder, keep, judged = logs_judged(found),
                              findings = NULL) {
  holds <- logs_hold(found)
  # rates over time are a sensor of the pass, numbers that were printed its scores
  place <- switch(holds,
    output = folder,
    rates = file.path(folder, "sensors"),
    frames = file.path(folder, "frames")
  )
  dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  writeLines(c(
    bare_plan("the names of logs", baseline, arms, found$workload, found$context, judged),
    if (is.list(layout)) c("frames_layout:", paste0("  ", names(layout), ": ", yaml_quoted(layout)))
  ), file.path(folder, "study.yml"))
  found <- found[order(found$order, match(found$arm, arms), found$workload, found$pass), , drop = FALSE]
  id <- make.unique(gsub("[^A-Za-z0-9._-]+", "-", do.call(paste, c(unname(as.list(
    found[intersect(c("workload", "context", "arm", "pass"), names(found))]
  )), sep = "_"))), "-")
  if (holds != "output") lay_logs(found$path, id, place, keep)
  beside <- !is.na(empty_to(found$sensors, NA))
  if (any(beside)) lay_logs(found$sensors[beside], id[beside], file.path(folder, "sensors"), keep)
  if (is.character(layout)) file.copy(layout, file.path(folder, "frames", "layout.yml"))
  passes <- data.frame(
    pass = id, workload = found$workload, arm = found$arm, block = found$block, order = found$order
  )
  passes$context <- found$context
  passes$outcome <- found$outcome
  passes$role <- found$role
  passes$reason <- found$reason
  if (holds == "output") passes[[attr(judged, "metric")]] <- found$value
  writeLines(csv_lines(passes), file.path(folder, "passes.csv"))
  findings <- bind_findings(
    findings, findings_of_names(found, holds, arms),
    if (holds == "frames") column_taken(found$path, layout),
    if (holds == "rates") new_finding("warning", "rates_over_time", every = stats::median(found$every))
  )
  writeLines(csv_lines(findings_as_text(findings)), file.path(folder, "findings.csv"))
}

#' The plan of what was read without one
#' @param from What it was read from. @param workloads,contexts Of each pass. @param metrics Lines of them.
#' @return Lines of YAML.
#' @noRd
bare_plan <- function(from, baseline, arms, workloads, contexts, metrics) {
  each <- function(ids, key) paste0("  - {", key, ": ", yaml_quoted(ids), "}")
  levels <- unique(contexts[!is.na(contexts)])
  c(
    paste0("# Made from ", from, ". Give the setting its name, and a worth to what is judged."),
    paste0("setting: {name: setting, baseline: ", yaml_quoted(baseline), "}"),
    "arms:", each(arms, "value"), "workloads:", each(unique(workloads), "id"),
    if (length(levels)) {
      c("context:", "  name: context", paste0("  levels: [", paste(yaml_quoted(levels), collapse = ", "), "]"))
    },
    "metrics:", metrics
  )
}

# which column the frames were taken from, and in which unit
column_taken <- function(paths, layout) {
  for (path in paths) {
    taken <- tryCatch(attr(read_frames(path, layout), "layout"), honestmargin_error = function(e) NULL)
    if (is.null(taken)) next
    return(new_finding("note", "log_column",
      holds = c(durations = "frame times", timestamps = "times of frames", rates = "rates")[[taken$holds]],
      column = paste0(taken$column, if (nzchar(empty_to(taken$name, ""))) {
        paste0(
          " (", taken$name,
          ")"
        )
      }), unit = taken$unit
    ))
  }
}

# under the names of their passes
lay_logs <- function(paths, id, place, keep) {
  dir.create(place, recursive = TRUE, showWarnings = FALSE)
  to <- file.path(place, paste0(id, regmatches(paths, regexpr(log_ending, paths))))
  linked <- !keep && all(suppressWarnings(file.symlink(normalizePath(paths), to)))
  if (!linked) file.copy(paths, to, overwrite = TRUE, copy.date = TRUE)
}
