# What a pass left behind: scores and frame logs, as readings and traces.

command_pass <- function(run, pass, workload, values) {
  logs <- file.path(run$folder, "logs")
  dir.create(logs, showWarnings = FALSE)
  dir.create(file.path(run$folder, "scratch"), showWarnings = FALSE)
  if (file.exists(values$log)) unlink(values$log) # an old log must not pass for this pass's
  limit <- empty_to(workload$time_limit, 10 * empty_to(workload$seconds, 360) + 60)
  log <- file.path(logs, paste0(pass$pass, ".log"))
  watch <- start_watch(run, pass, workload)
  on.exit(if (!is.null(watch$recorder)) end_recorder(watch$recorder))
  done <- run_watched(fill_command(workload$command, names(values)), log, limit,
    env = c(command_values(values), watch$env, HONESTMARGIN_MARK = pass_mark(run$folder, pass$pass)), wd = run$folder,
    tick = function(seconds) run$tell("running", list(pass = pass, seconds = seconds, planned = workload$seconds))
  )
  seen <- done[c("status", "signal", "timed_out", "interrupted", "seconds")]
  captured <- end_watch(watch)
  # a beacon may tell only the marks, beside a log of the frames
  if (is.null(captured$frames) && !isTRUE(workload$probe) && writes_log(workload)) {
    captured <- utils::modifyList(captured, collect_frames(run, values$log, done$seconds))
  }
  kept <- keep_capture(run$folder, run$plan, pass, captured)
  scores <- collect_scores(run, pass, workload, done)
  kept$readings <- rbind(scores$readings, kept$readings)
  missing <- c(scores$missing, captured$missing)
  if (length(missing) && length(done$output)) {
    last <- plain_text(utils::tail(done$output, 1))
    kept$notes <- c(kept$notes, paste0("it last said: ", substr(last, 1, 100)))
  }
  c(seen, kept, list(missing = missing, planned_seconds = workload$seconds, played = watch$played))
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
  place <- segment_place(pass$workload, segment)
  list(
    readings = data.frame(
      pass = pass$pass, workload = place, metric = metric, value = value, unit = unit, better = NA_character_
    ),
    missing = reading_name(place, pass$workload, metric)[is.na(value)]
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

# A frame log that the workload wrote, where nothing else told its frames.
collect_frames <- function(run, log, seconds) {
  if (!file.exists(log)) {
    return(list(missing = "frame log"))
  }
  frames <- tryCatch(
    read_frames(log, run$plan$frames_layout),
    honestmargin_error_input = function(e) conditionMessage(e)
  )
  if (is.character(frames)) {
    return(list(missing = "readable frame log", notes = sub("\n.*", "", frames)))
  }
  unlink(log)
  list(frames = log_on_pass(frames$frame_time_ms, seconds))
}

# A log has no clock in common with the sensors; programs load before their first
# frame and end soon after the last.
log_on_pass <- function(frame_time_ms, seconds) {
  end <- cumsum(frame_time_ms) / 1000
  data.frame(frame_time_ms = frame_time_ms, start_s = max(0, seconds - end[length(end)]) + end - frame_time_ms / 1000)
}
