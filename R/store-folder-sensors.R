# A sensor log beside the frames of its pass, where nobody wrote down when that pass began.

#' Put a sensor log of a folder on the clock of its pass
#'
#' A log by the clock of the day is of this pass alone, so it begins with it, and that is said.
#' @param sensors From [read_sensors()], or `NULL`. @param frames From [read_frames()], or `NULL`.
#' @return A list: `sensors`, `findings`.
#' @noRd
sensors_of_pass <- function(sensors, frames, file) {
  if (is.null(sensors) || !nrow(sensors)) {
    return(list(sensors = sensors))
  }
  time <- sensors$time_s
  absolute <- isTRUE(attr(sensors, "absolute"))
  by_day <- absolute || isTRUE(attr(sensors, "layout")$form == "time of day or elapsed")
  if (is.null(frames)) {
    # a clock that began with the program is not that far
    if (absolute || (by_day && min(time) > 3600)) sensors$time_s <- time - min(time)
    return(list(sensors = sensors))
  }
  ends <- frames$time_s[nrow(frames)] + frames$frame_time_ms[nrow(frames)] / 1000
  if (!absolute && any(time >= 0 & time <= ends)) {
    return(list(sensors = sensors))
  }
  if (by_day) {
    sensors$time_s <- time - min(time)
    return(list(sensors = sensors, findings = new_finding("note", "clock_of_day", file = basename(file))))
  }
  list(sensors = sensors, findings = new_finding("warning", "outside_pass",
    file = basename(file), from = min(time), to = max(time), seconds = round(ends, 1)
  ))
}
