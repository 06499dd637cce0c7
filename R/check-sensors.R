# Sensors that are not there, or were not there to the end.

register("check", "sensors", scope = "study", run = function(study) {
  if (!length(study$sensors)) {
    return(no_findings())
  }
  blank <- as.data.frame(
    c(list(time_s = 0), stats::setNames(as.list(rep(1, length(study$sensors))), study$sensors)),
    check.names = FALSE
  )
  wanted <- names(Filter(function(s) s$wanted, registered("series")))
  missing <- setdiff(wanted, names(sensor_series(blank)))
  # power comes from an energy counter too
  if (any(grepl("^energy processor", study$sensors))) missing <- setdiff(missing, "processor_power")
  if (length(missing)) new_finding("note", "no_sensor", sensors = series_words(missing))
})
