# Sensors that are not there, or were not there to the end.

# without these it cannot be told what limits a pass
wanted_series <- c(
  graphics_load = "graphics load", processor_temperature = "processor temperature",
  processor_power = "processor power"
)

#' @param columns Names of the sensor columns of a study. @return One finding, or none.
#' @noRd
missing_sensors <- function(columns) {
  blank <- as.data.frame(
    c(list(time_s = 0), stats::setNames(as.list(rep(1, length(columns))), columns)),
    check.names = FALSE
  )
  missing <- setdiff(names(wanted_series), names(sensor_series(blank)))
  # power comes from an energy counter too
  if (any(grepl("^energy processor", columns))) missing <- setdiff(missing, "processor_power")
  if (!length(missing)) {
    return(no_findings())
  }
  new_finding(
    "note", "sensors", paste0("no sensor of ", paste(wanted_series[missing], collapse = ", ")),
    "a command that tells it can be named in the plan: sensors: {commands: {\"load graphics [%]\": ...}}"
  )
}

#' Sensors that stopped giving values in the middle of a pass
#' @return Words for the record, or `NULL`.
#' @noRd
vanished_sensors <- function(sensors) {
  columns <- setdiff(names(sensors), "time_s")
  n <- nrow(sensors)
  last <- vapply(sensors[columns], function(v) max(0, which(is.finite(v))), 1)
  gone <- columns[last > 0 & last < 0.7 * n]
  if (length(gone)) {
    at <- round(sensors$time_s[min(last[gone])])
    paste0("the sensor ", some_of(gone, 3), " gave nothing any more after ", at, " s")
  }
}
