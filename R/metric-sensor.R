# Metrics of sensors, per pass: what the machine did while the frames were shown.

# unit and better direction of each series; "none": described, not weighed
sensor_kinds <- list(
  processor_load = c("%", "none"), busiest_core_load = c("%", "none"), graphics_load = c("%", "none"),
  processor_clock = c("MHz", "higher"), graphics_clock = c("MHz", "higher"), memory_clock = c("MHz", "higher"),
  processor_temperature = c("C", "lower"), graphics_temperature = c("C", "lower"),
  processor_power = c("W", "lower"), graphics_power = c("W", "lower"), graphics_memory = c("MB", "lower"),
  memory_used = c("MB", "lower"), swap_used = c("MB", "lower"), fan_speed = c("rpm", "lower")
)
# these may well be 0
may_be_off <- c("swap_used", "fan_speed", "graphics_memory", "graphics_power", "graphics_clock")
sensor_stats <- c(mean = "mean", max = "maximum", min = "minimum", p95 = "95 % of the time at most")

sensor_metrics <- function() {
  words <- function(name) gsub("_", " ", name, fixed = TRUE)
  # degrees and percent points have no natural zero to take ratios of
  scale <- function(unit, name) if (unit %in% c("C", "%") || name %in% may_be_off) "absolute" else "percent"
  each <- lapply(names(sensor_kinds), function(name) {
    kind <- sensor_kinds[[name]]
    lapply(names(sensor_stats), function(stat) {
      new_metric(
        paste0(name, "_", stat), paste0(words(name), ", ", stat), kind[1], kind[2], scale(kind[1], name),
        paste0(sensor_stats[[stat]], " of the ", words(name), " while frames counted")
      )
    })
  })
  c(unlist(each, recursive = FALSE), derived_sensor_metrics())
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
      one("battery_per_hour", "battery used", "%/h", "lower", "absolute", "fall of the battery level over time"),
      one("clock_held", "clock held", "%", "higher", "absolute", "mean clock over the clock asked for"),
      one("level_held", "level held", "%", "higher", "absolute", "average rate of the last quarter over the first"),
      one(
        "slope_per_loop", "slope per loop", "%", "higher", "absolute",
        "change of the average rate from loop to loop"
      )
    ),
    lapply(c("processor", "graphics"), function(who) {
      one(
        paste0(who, "_temperature_rise"), paste(who, "temperature rise"), "C", "lower", "absolute",
        "median of the last tenth of the pass less that of the first"
      )
    })
  )
}

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
  out <- unlist(lapply(intersect(names(sensor_kinds), names(series)), function(name) {
    v <- series[[name]][is.finite(series[[name]])]
    if (!length(v)) {
      return(NULL)
    }
    values <- c(mean(v), max(v), min(v), stats::quantile(v, 0.95, names = FALSE))
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

limit_id <- function(limit) {
  side <- if (is.null(limit$above)) "below" else "above"
  paste0(limit$series, "_", side, "_", limit[[side]])
}

limit_metric <- function(limit) {
  side <- if (is.null(limit$above)) "below" else "above"
  new_metric(
    limit_id(limit), paste(gsub("_", " ", limit$series), side, limit[[side]]), "%", "lower", "absolute",
    paste("share of the samples with the", gsub("_", " ", limit$series), side, limit[[side]])
  )
}

# made once: a study asks for them at every turn
built_in_sensor_metrics <- sensor_metrics()
sensor_metric_ids <- names(by_id(built_in_sensor_metrics))
