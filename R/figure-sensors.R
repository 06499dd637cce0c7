# Sensors over time, in the passes that the trace shows.

sensor_data <- function(x, workload = NULL, metric = NULL, context = NULL, ..., slices = 240) {
  study <- traced_study(x, ...)
  shown <- typical_passes(study, workload, context, "sensors", "sensor log")
  by <- attr(shown, "by")
  sensors <- lapply(seq_len(nrow(shown)), function(i) study_capture(study, shown[i, ], "sensors")$sensors)
  shown <- with_a_trace(shown, vapply(sensors, is.null, NA), "sensor log")
  sensors <- Filter(length, sensors)
  rows <- lapply(seq_len(nrow(shown)), function(i) {
    thin <- thin_series(sensor_series(sensors[[i]]), slices)
    thin$label <- paste0(
      gsub("busiest core load", "busiest core, load", series_words(thin$series)), " (", thin$unit, ")"
    )
    cbind(shown[rep(i, nrow(thin)), ], thin, row.names = NULL)
  })
  structure(stack_rows(rows), labels = plan_labels(study$plan), by = by)
}

register("figure", "sensors", rank = 4, data = sensor_data, about = "loads, clocks, temperatures and power over time")
