# Readings of a pass from its sensors: what the machine did while the frames were shown.

#' Readings of one pass from its sensors
#'
#' @param series From `sensor_series()`, of the time in which frames counted; a column
#'   `stretch`, where there is one, tells stretches that do not touch apart.
#' @param frames How many frames counted, 0 for none; `seconds` how long they took together,
#'   `NULL` for the time that the samples cover.
#' @param asked Clock asked for in MHz, and of which series: a list `series`, `MHz`, or `NULL`.
#' @param limits List of `series`, `above` or `below`: time beyond is reported in percent.
#' @return Named numeric; empty where the samples say too little (`enough_samples()`).
#' @noRd
sensor_readings <- function(series, frames = 0, asked = NULL, limits = list(), seconds = NULL) {
  if (!enough_samples(series$time_s)) {
    return(numeric())
  }
  measured <- Filter(function(name) isTRUE(series_about(name)$metrics), setdiff(names(series), c("time_s", "stretch")))
  out <- unlist(lapply(measured, function(name) {
    v <- series[[name]][is.finite(series[[name]])]
    if (!length(v)) {
      return(NULL)
    }
    values <- c(mean(v), max(v), min(v), high_value(v))
    stats::setNames(values, paste0(name, "_", names(sensor_stats)))
  }))
  energy <- c(
    processor_energy = series_energy(series, "processor", seconds),
    graphics_energy = series_energy(series, "graphics", seconds)
  )
  rises <- unlist(lapply(c("processor", "graphics"), function(who) temperature_rise(series, who)))
  c(
    out, energy,
    if (length(energy) && frames > 0) c(energy_per_frame = sum(energy) / frames),
    rises, battery_fall(series),
    if (!is.null(asked) && !is.null(series[[asked$series]])) {
      c(clock_held = 100 * mean(series[[asked$series]], na.rm = TRUE) / asked$MHz)
    },
    unlist(lapply(limits, time_beyond, series = series))
  )
}

# the 95th percentile as R has it (type 7), for the many short series of a study
high_value <- function(v) {
  v <- sort.int(v, method = "quick")
  at <- 1 + 0.95 * (length(v) - 1)
  below <- v[floor(at)]
  below + (at - floor(at)) * (v[ceiling(at)] - below)
}

# a load is a share of the time between two samples, and the first is of none
enough_samples <- function(time_s) length(time_s) >= 3 && diff(range(time_s)) >= 1.5

# What was used between stretches (in a menu, in another segment) is not counted.
series_energy <- function(series, who, seconds = NULL) {
  counter <- series[[paste0(who, "_energy")]]
  power <- series[[paste0(who, "_power")]]
  used <- if (!is.null(counter)) {
    over_stretches(series, counter, function(t, v) v[length(v)] - v[1])
  } else if (!is.null(power)) {
    over_stretches(series, power, integrate_samples)
  }
  seconds <- empty_to(seconds, used[["seconds"]])
  if (!is.null(used) && used[["seconds"]] > 0.5 * seconds) used[["sum"]] / used[["seconds"]] * seconds
}

#' Sum of something over stretches of samples that do not touch
#'
#' @param of Function of the times and the values of one stretch.
#' @return Named numeric `sum` and `seconds`, the time covered; `NULL` for none.
#' @noRd
over_stretches <- function(series, value, of) {
  ok <- is.finite(value)
  stretch <- empty_to(series$stretch, rep(1, length(value)))[ok]
  one <- function(t, v) c(of(t, v), t[length(t)] - t[1])
  parts <- Map(one, split(series$time_s[ok], stretch), split(value[ok], stretch))
  total <- Reduce(`+`, parts, c(0, 0))
  if (total[2] > 0) c(sum = total[1], seconds = total[2])
}

#' Integral of samples over time by trapezoids
#' @noRd
integrate_samples <- function(time_s, value) sum(diff(time_s) * (value[-1] + value[-length(value)]) / 2)

temperature_rise <- function(series, who) {
  v <- series[[paste0(who, "_temperature")]]
  v <- v[is.finite(v)]
  tenth <- max(1, length(v) %/% 10)
  if (length(v) < 3) {
    return(NULL)
  }
  rise <- stats::median(utils::tail(v, tenth)) - stats::median(utils::head(v, tenth))
  stats::setNames(rise, paste0(who, "_temperature_rise"))
}

battery_fall <- function(series) {
  level <- series$battery_level
  fell <- if (!is.null(level)) over_stretches(series, level, function(t, v) v[1] - v[length(v)])
  if (!is.null(fell)) c(battery_per_hour = 3600 * fell[["sum"]] / fell[["seconds"]])
}

#' Share of the samples beyond a limit, in percent
#' @noRd
time_beyond <- function(limit, series) {
  v <- series[[limit$series]]
  v <- v[is.finite(v)]
  if (!length(v)) {
    return(NULL)
  }
  above <- !is.null(limit$above)
  share <- 100 * mean(if (above) v > limit$above else v < limit$below)
  stats::setNames(share, limit_id(limit))
}

#' Was one of these frames shown at that time?
#' @noRd
shown_at <- function(time_s, start_s, frame_time_ms) {
  at <- findInterval(time_s, start_s)
  inside <- at > 0
  inside[inside] <- time_s[inside] <= start_s[at[inside]] + frame_time_ms[at[inside]] / 1000
  inside
}

# samples taken while one of these frames was shown, and which of them stand together
series_within <- function(series, start_s, frame_time_ms) {
  inside <- shown_at(series$time_s, start_s, frame_time_ms)
  out <- series[inside, , drop = FALSE]
  out$stretch <- cumsum(c(TRUE, diff(which(inside)) > 1))[seq_len(nrow(out))]
  out
}

#' Which of the sensors stopped giving values in the middle of a pass
#' @return A finding, or `NULL`.
#' @noRd
vanished_sensors <- function(sensors, pass) {
  columns <- setdiff(names(sensors), "time_s")
  last <- vapply(sensors[columns], function(v) max(0, which(is.finite(v))), 1)
  gone <- columns[last > 0 & last < 0.7 * nrow(sensors)]
  if (length(gone)) {
    at <- round(sensors$time_s[min(last[gone])])
    new_finding("note", "sensor_gone", sensors = gone, at_s = at, pass = pass)
  }
}
