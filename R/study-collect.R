# What a pass left behind: scores and frame logs, as readings and traces.

command_pass <- function(run, pass, workload, values) {
  logs <- file.path(run$folder, "logs")
  dir.create(logs, showWarnings = FALSE)
  dir.create(file.path(run$folder, "scratch"), showWarnings = FALSE)
  if (file.exists(values$log)) unlink(values$log) # an old log must not pass for this pass's
  limit <- empty_to(workload$time_limit, 10 * empty_to(workload$seconds, 360) + 60)
  log <- file.path(logs, paste0(pass$pass, ".log"))
  done <- run_watched(fill_command(workload$command, names(values)), log, limit,
    env = c(command_values(values), HONESTMARGIN_MARK = pass_mark(run$folder, pass$pass)), wd = run$folder,
    tick = function(seconds) run$tell("running", list(pass = pass, seconds = seconds, planned = workload$seconds))
  )
  seen <- done[c("status", "signal", "timed_out", "interrupted", "seconds")]
  scores <- collect_scores(run, pass, workload, done)
  frames <- collect_frames(run, pass, workload, values$log)
  missing <- c(scores$missing, frames$missing)
  scores$missing <- NULL
  frames$missing <- NULL
  c(seen, scores, frames, list(missing = missing, planned_seconds = workload$seconds))
}

# in the environment of all that a pass starts, so that leftovers can be found
pass_mark <- function(folder, pass) paste0(normalizePath(folder), "#", pass)

collect_scores <- function(run, pass, workload, done) {
  if (!length(workload$scores)) {
    return(list())
  }
  value <- vapply(workload$scores, one_score, 1, folder = run$folder, done = done)
  metric <- vapply(workload$scores, `[[`, "", "metric")
  segment <- vapply(workload$scores, function(s) empty_to(s$segment, NA_character_), "")
  described <- described_metrics(run$plan)
  unit <- vapply(metric, function(id) empty_to(described[[id]]$unit, NA_character_), "", USE.NAMES = FALSE)
  list(
    readings = data.frame(
      pass = pass$pass, workload = segment_place(pass$workload, segment), metric = metric, value = value, unit = unit,
      better = NA_character_
    ),
    missing = paste0(ifelse(is.na(segment), "", paste0(segment, "/")), metric)[is.na(value)]
  )
}

one_score <- function(score, folder, done) {
  from <- empty_to(score$from, if (is.null(score$file)) "output" else "file")
  if (from == "clock") {
    return(done$seconds)
  }
  path <- if (from == "file") file.path(folder, score$file)
  if (from == "file" && !file.exists(path)) {
    return(NA_real_)
  }
  lines <- if (from == "file") first_lines(path, -1) else done$output
  if (is.null(score$json)) {
    return(number_by_pattern(lines, empty_to(score$pattern, "([-0-9.,:]+)")))
  }
  text <- paste(lines, collapse = "\n")
  data <- tryCatch(jsonlite::fromJSON(text, simplifyVector = FALSE), error = function(e) NULL)
  number_by_path(data, score$json)
}

collect_frames <- function(run, pass, workload, log) {
  if (!gives_frames(workload)) {
    return(list())
  }
  if (!file.exists(log)) {
    return(list(missing = "frame log"))
  }
  frames <- tryCatch(
    read_frames(log, run$plan$frames_layout),
    honestmargin_error_input = function(e) conditionMessage(e)
  )
  if (is.character(frames)) {
    return(list(missing = "readable frame log", note = sub("\n.*", "", frames)))
  }
  stored <- keep_frames(run$folder, pass, frames$frame_time_ms)
  unlink(log)
  c(stored, list(frames_seconds = sum(frames$frame_time_ms) / 1000))
}

#' Frame times of a pass as readings, pile and stored trace
#' @noRd
keep_frames <- function(folder, pass, frame_time_ms) {
  summary <- frame_summary(frame_time_ms)
  list(
    frame_readings = data.frame(
      pass = pass$pass, workload = pass$workload, metric = names(summary), value = unname(summary),
      unit = NA_character_, better = NA_character_
    ),
    traces = store_trace(folder, pass$pass, "frames", data.frame(frame_time_ms = frame_time_ms)),
    pile = data.frame(pass = pass$pass, t(pile_of_pass(frame_time_ms)))
  )
}
