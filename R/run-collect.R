# What a pass that was started from here left behind: scores and frame logs.

command_pass <- function(run, pass, workload, values) {
  for (name in c("logs", "scratch")) dir.create(file.path(run$folder, name), showWarnings = FALSE)
  watch <- start_watch(run, pass, workload, values$log)
  on.exit(stop_watch(watch))
  done <- run_watched(fill_command(workload$command, values), file.path(run$folder, "logs", paste0(pass$pass, ".log")),
    limit = time_limit(workload), env = c(watch$env, HONESTMARGIN_MARK = pass_mark(run$folder, pass$pass)),
    wd = run$folder, tick = function(seconds) run$tell("running", list(pass = pass, seconds = seconds))
  )
  captured <- end_watch(watch, done$seconds)
  if (could_not_start(done)) {
    return(list(not_started = said_at_start(done), seconds = done$seconds))
  }
  scores <- collect_scores(run, workload, done)
  missing <- c(scores$missing, captured$missing)
  if (length(missing) && length(done$output)) {
    last <- substr(plain_text(utils::tail(done$output, 1)), 1, 100)
    captured$found <- bind_findings(captured$found, new_finding("note", "last_said", said = last))
  }
  kept <- keep_capture(run$store, run$plan, pass, captured, scores$readings)
  c(done[c("status", "signal", "timed_out", "interrupted", "seconds")], list(
    kept = kept, missing = missing, frames_seconds = kept$seconds, planned_seconds = workload$seconds,
    played = watch$played
  ))
}

#' @return A list: `readings` (typed columns), `missing` (names).
#' @noRd
collect_scores <- function(run, workload, done) {
  if (!length(workload$scores)) {
    return(list())
  }
  places <- score_places(run$plan, workload)
  value <- vapply(workload$scores, one_score, 1, folder = run$folder, done = done)
  list(
    readings = typed_readings(run$plan, places, value),
    missing = typed_name(places$segment, places$metric)[is.na(value)]
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
  lines <- if (from == "file") first_lines(path, -1) else without_shell_errors(done$output)
  if (is.null(score$json)) {
    return(number_by_pattern(lines, empty_to(score$pattern, "([-0-9.,:]+)")))
  }
  text <- paste(lines, collapse = "\n")
  data <- tryCatch(jsonlite::fromJSON(text, simplifyVector = FALSE), error = function(e) NULL)
  number_by_path(data, score$json)
}
