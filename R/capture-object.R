# What a pass left behind, all on one clock, whoever captured it. It carries what
# is needed to make readings of it, so that nothing has to be looked up again.

#' Put together what was captured of one pass
#'
#' Times are held to the nanosecond and sensor values to twelve digits, so that a
#' capture is the same to the last bit after a way through any store.
#' @param pass One row of passes (or a list): `pass`, `workload`, `arm`.
#' @param frames Data frame: `frame_time_ms`, and `start_s` where it is known (else
#'   frames follow one another from 0).
#' @param marks Data frame `time_s`, `word`, `value`. @param sensors Data frame `time_s` and sensor
#'   columns. @param windows Data frame of all frames of a program with several windows.
#' @param findings What was noticed while it was captured.
#' @return An object of class `honestmargin_capture`.
#' @noRd
new_capture <- function(pass, frames = NULL, marks = NULL, sensors = NULL, windows = NULL,
                        findings = no_findings()) {
  if (!is.null(frames)) frames <- held_frames(frames)
  marks <- empty_to(marks, no_marks())
  marks$time_s <- round_seconds(marks$time_s)
  structure(
    list(
      pass = as.list(pass), frames = frames, marks = marks[order(marks$time_s), , drop = FALSE],
      sensors = if (NROW(sensors)) held_sensors(sensors), windows = windows, findings = findings
    ),
    class = "honestmargin_capture"
  )
}

held_frames <- function(frames) {
  x <- hold_nanoseconds(as.numeric(frames$frame_time_ms))
  start <- if (is.null(frames$start_s)) frame_starts(x) else as.numeric(frames$start_s)
  list2DF(list(frame_time_ms = x, start_s = round_seconds(start)))
}

round_seconds <- function(s) round(s * 1e9) / 1e9

held_sensors <- function(sensors) {
  columns <- lapply(sensors, function(v) signif(v, 12))
  columns$time_s <- round_seconds(columns$time_s)
  list2DF(columns)
}

#' Length of a capture, in seconds; `NULL` without frames
#' @noRd
capture_seconds <- function(capture) {
  if (!is.null(capture$frames)) round_seconds(sum(capture$frames$frame_time_ms) / 1000)
}
