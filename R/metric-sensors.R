# Metrics of the sensors of a pass: made of the series, so that none knows its unit
# or its direction twice.

sensor_stats <- c(mean = "mean", max = "maximum", min = "minimum", p95 = "95 % of the time at most")

sensor_metrics <- function() {
  series <- Filter(function(s) s$metrics, registered("series"))
  c(unlist(unname(lapply(series, metrics_of_series)), recursive = FALSE), derived_sensor_metrics())
}

metrics_of_series <- function(series) {
  # degrees and percent points have no natural zero to take ratios of
  scale <- if (series$unit %in% c("C", "%") || series$off) "absolute" else "percent"
  lapply(names(sensor_stats), function(stat) {
    words <- series_words(series$name)
    new_metric(
      paste0(series$name, "_", stat), paste0(words, ", ", stat), series$unit, series$better, scale,
      paste0(sensor_stats[[stat]], " of the ", words, " while frames counted")
    )
  })
}

derived_sensor_metrics <- function() {
  one <- function(id, label, unit, better, scale, definition) new_metric(id, label, unit, better, scale, definition)
  energy <- paste(
    "mean power (trapezoid over time, or the difference of an energy counter) times the time in which frames",
    "counted; none where samples cover less than half of it"
  )
  c(
    list(
      one("processor_energy", "processor energy", "J", "lower", "percent", energy),
      one("graphics_energy", "graphics energy", "J", "lower", "percent", energy),
      one(
        "energy_per_frame", "energy per frame", "J", "lower", "percent", "processor and graphics energy over frames"
      ),
      new_metric(
        "battery_per_hour", "battery used", "%/h", "lower", "absolute",
        "fall of the battery level over time; read in whole percent, the level may be off by one percent a pass",
        step_s = 2 * 3600
      ),
      one("clock_held", "clock held", "%", "higher", "absolute", "mean clock over the clock asked for")
    ),
    lapply(c("processor", "graphics"), function(who) {
      one(
        paste0(who, "_temperature_rise"), paste(who, "temperature rise"), "C", "lower", "absolute",
        "median of the last tenth of the pass less that of the first"
      )
    })
  )
}

limit_id <- function(limit) {
  side <- if (is.null(limit$above)) "below" else "above"
  paste0(limit$series, "_", side, "_", limit[[side]])
}

limit_metric <- function(limit) {
  side <- if (is.null(limit$above)) "below" else "above"
  new_metric(
    limit_id(limit), paste(series_words(limit$series), side, limit[[side]]), "%", "lower", "absolute",
    paste("share of the samples with the", series_words(limit$series), side, limit[[side]])
  )
}
