# What is captured while a pass runs, brought onto the time of that pass.

#' Start what a workload's frames and sensors are captured with
#'
#' @return A list: `env` (for the workload), `started_s` (monotonic), `played` (the same
#'   by the clock of the day), and what `end_watch()` needs.
#' @noRd
start_watch <- function(run, pass, workload) {
  scratch <- file.path(run$folder, "scratch")
  dir.create(scratch, showWarnings = FALSE)
  stem <- file.path(normalizePath(scratch), pass$pass)
  unlink(paste0(stem, c(".sensors", ".beacon", ".file")))
  unlink(list.files(scratch, paste0("^", pass$pass, "[.]frames[.][0-9]+$"), full.names = TRUE))
  watch <- list(stem = stem, env = character(), plan = run$plan, workload = workload)
  if (isTRUE(workload$probe)) watch$env <- probe_environment(paste0(stem, ".frames"))
  if (isTRUE(workload$beacon)) watch$socket <- beacon_socket(run$folder)
  if (!is.null(watch$socket)) {
    watch$env <- c(watch$env, HONESTMARGIN_BEACON = watch$socket, HONESTMARGIN_BEACON_FILE = paste0(stem, ".file"))
  }
  watch$sensors <- wants_sensors(run$plan, workload)
  if (watch$sensors || !is.null(watch$socket)) {
    watch$recorder <- start_recorder(
      if (watch$sensors) paste0(stem, ".sensors"), empty_to(run$plan$sensors$rate, 5),
      vapply(run$plan$sensors$commands, as.character, ""),
      watch$socket, if (!is.null(watch$socket)) paste0(stem, ".beacon")
    )
  }
  watch$started_s <- monotonic_s()
  watch$played <- clock_now()
  watch
}

# By itself where the workload is started from here and the helper is there; a
# workload that is played by hand may run on another machine.
wants_sensors <- function(plan, workload) {
  rate <- empty_to(plan$sensors$rate, 5)
  rate > 0 && nzchar(helper_path("recorder")) && (!is.null(workload$command) || !is.null(plan$sensors))
}

# A socket's path may not be longer than 107 bytes, a study's folder may.
beacon_socket <- function(folder) {
  name <- substr(cli::hash_sha256(normalizePath(folder)), 1, 12)
  file.path(dirname(tempdir()), paste0("honestmargin-", name, ".sock"))
}

#' What was captured, on the time of the pass
#'
#' @return A list: `frames` (data frame `start_s`, `frame_time_ms`, or `NULL`), `marks`,
#'   `sensors` (data frame, or `NULL`), `notes` (what the record should say), `missing`.
#' @noRd
end_watch <- function(watch) {
  if (!is.null(watch$recorder)) end_recorder(watch$recorder)
  out <- list(marks = no_marks())
  if (isTRUE(watch$workload$probe)) out <- utils::modifyList(out, probed_frames(watch))
  if (!is.null(watch$socket)) {
    told <- beacon_told(watch)
    out$marks <- told$marks
    out$notes <- c(out$notes, told$notes)
    if (is.null(out$frames) && nrow(told$frames)) out$frames <- told$frames
    if (is.null(out$frames) && is.null(out$missing) && !writes_log(watch$workload)) out$missing <- "frames"
  }
  path <- paste0(watch$stem, ".sensors")
  if (watch$sensors && file.exists(path)) out$sensors <- sampled(path, watch$started_s)
  unlink(c(path, paste0(watch$stem, c(".beacon", ".file"))))
  out
}

probed_frames <- function(watch) {
  stem <- paste0(watch$stem, ".frames")
  notes <- read_probe(stem)
  unlink(list.files(dirname(stem), paste0("^", basename(stem), "[.][0-9]+$"), full.names = TRUE))
  if (is.null(notes)) {
    return(list(missing = "presented frames"))
  }
  found <- main_window(notes)
  if (is.null(found$frames)) {
    return(list(missing = "presented frames"))
  }
  found$frames$start_s <- found$frames$start_s - watch$started_s
  others <- found$windows$presented[-1]
  list(frames = found$frames, windows = if (length(others)) notes, notes = c(
    if (length(others)) {
      paste0("the window with most frames is taken (", found$presented, "; others ", some_of(others), ")")
    },
    if (found$lost > 0) paste(found$lost, "frames came too fast to be noted")
  ))
}

beacon_told <- function(watch) {
  lines <- read_beacon(paste0(watch$stem, ".beacon"), TRUE)
  refused <- attr(lines, "refused")
  told <- beacon_trace(lines)
  if (!nrow(told$frames) && file.exists(paste0(watch$stem, ".file"))) {
    written <- beacon_trace(read_beacon(paste0(watch$stem, ".file"), FALSE))
    # a file has no times of arrival: stamps are by our clock, else the file begins the pass
    moved <- nrow(written$frames) && written$frames$start_s[1] > watch$started_s - 60
    if (!moved) written$frames$start_s <- written$frames$start_s + watch$started_s
    if (!moved) written$marks$time_s <- written$marks$time_s + watch$started_s
    told <- list(
      frames = written$frames, marks = rbind(told$marks, written$marks), refused = told$refused + written$refused
    )
  }
  told$frames$start_s <- told$frames$start_s - watch$started_s
  told$marks$time_s <- told$marks$time_s - watch$started_s
  refused <- refused + told$refused
  c(told, list(notes = if (refused > 0) paste(count_of(refused, "line"), "of the beacon said nothing that is known")))
}

sampled <- function(path, zero_s) {
  rows <- data.table::fread(
    path,
    header = TRUE, sep = ",", data.table = FALSE, fill = TRUE, showProgress = FALSE, check.names = FALSE
  )
  if (!enough_samples(rows$time_s)) {
    return(NULL)
  }
  rows$time_s <- rows$time_s - zero_s
  # a sensor that never gave a value is none
  rows[vapply(rows, function(v) is.numeric(v) && any(is.finite(v)), NA)]
}
