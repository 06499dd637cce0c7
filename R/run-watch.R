# What is captured while a pass runs, brought onto the time of that pass.

#' Start the sources that a workload's frames, marks and sensors come from
#'
#' @param log Path of the frame log that the workload writes, where it writes one.
#' @return A list: `env` (for the workload), `started_s` (monotonic), `played` (the same
#'   by the clock of the day), and what `end_watch()` needs.
#' @noRd
start_watch <- function(run, pass, workload, log = NULL) {
  scratch <- file.path(run$folder, "scratch")
  dir.create(scratch, showWarnings = FALSE)
  watch <- list(
    stem = file.path(normalizePath(scratch), pass$pass), folder = run$folder, log = log, plan = run$plan,
    workload = workload, env = character(), recorder = list(),
    sources = Filter(function(source) source$wanted(workload, run$plan), registered("source"))
  )
  for (source in watch$sources) watch <- source$begin(watch)
  if (length(watch$recorder)) watch$process <- do.call(start_recorder, c(watch$recorder, list(wd = run$folder)))
  watch$started_s <- monotonic_s()
  watch$played <- clock_now()
  watch
}

#' What was captured, on the time of the pass
#'
#' @param seconds How long the workload ran.
#' @return A list: `frames` (data frame `start_s`, `frame_time_ms`, or `NULL`), `marks`,
#'   `sensors` (data frame, or `NULL`), `windows`, `found` (findings for the record), `missing`.
#' @noRd
end_watch <- function(watch, seconds) {
  stop_watch(watch)
  out <- list(marks = no_marks(), found = no_findings())
  for (source in watch$sources) {
    told <- source$end(watch, out, seconds)
    # the frames of the first source that has any are taken
    for (part in setdiff(c("frames", "windows", "sensors", "missing"), names(out))) out[[part]] <- told[[part]]
    out$marks <- rbind(out$marks, told$marks)
    out$found <- bind_findings(out$found, told$found)
  }
  out
}

stop_watch <- function(watch) {
  if (!is.null(watch$process)) end_recorder(watch$process, length(watch$recorder$commands) > 0)
}
