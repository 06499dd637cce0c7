# Which part limits a pass: the evidence of its sensors, second by second.

limiting_parts <- c("limiter", "heat", "power", "graphics memory", "graphics", "processor", "one thread", "none seen")

#' The limiting part of each second of a pass
#'
#' The rules stand in [limiting_table()]. The pass as a whole is held by a limiter when
#' the frame times say so (`find_ceilings()`), since no sensor shows that.
#'
#' @param series From `sensor_series()`.
#' @return Data frame: `second`, `limiting` (one of `limiting_parts` but `limiter`,
#'   or `unknown`), and the series that were looked at.
#' @noRd
limiting_by_second <- function(series) {
  per <- second_means(series)
  tests <- limit_tests(per)
  limiting <- rep("none seen", nrow(per))
  for (part in rev(names(tests))) limiting[tests[[part]]] <- part
  # nothing seen counts only where the two loads could be seen
  blind <- is.null(per$processor_load) || is.null(per$graphics_load)
  if (blind) limiting[limiting == "none seen"] <- "unknown"
  list2DF(c(list(second = per$second, limiting = limiting), unclass(per)[setdiff(names(per), "second")]))
}

second_means <- function(series) {
  second <- floor(series$time_s - min(series$time_s))
  # of several devices the one at work
  shown <- setdiff(intersect(names(series), names(registered("series"))), c("swap_used", "fan_speed", "battery_level"))
  if (!length(shown)) {
    return(data.frame(second = sort(unique(second))))
  }
  values <- do.call(cbind, unclass(series)[shown])
  seen <- is.finite(values)
  values[!seen] <- 0
  # sums by second, which are in the order of the seconds
  means <- rowsum(values, second) / rowsum(seen + 0, second)
  means[!is.finite(means)] <- NA
  columns <- lapply(stats::setNames(nm = shown), function(name) unname(means[, name]))
  list2DF(c(list(second = as.numeric(rownames(means))), columns))
}

# For each part, in which seconds it was at its limit; the gravest first.
limit_tests <- function(per) {
  value <- function(name) if (is.null(per[[name]])) rep(NA_real_, nrow(per)) else per[[name]]
  yes <- function(test) test & !is.na(test)
  best <- function(v) if (any(is.finite(v))) max(v, na.rm = TRUE) else NA_real_
  at_least <- function(name, level) yes(value(name) >= level)
  clock <- value("processor_clock")
  slowed <- function(share) yes(clock < share * best(clock))
  heat <- value("processor_temperature")
  list(
    heat = yes(c(FALSE, diff(value("throttles")) > 0)) | (yes(heat >= pmax(90, best(heat) - 3)) & slowed(0.95)),
    power = (at_least("processor_power", 0.97 * value("processor_limit")) & slowed(0.97)) |
      at_least("graphics_power", 0.97 * value("graphics_limit")),
    `graphics memory` = at_least("graphics_memory", 0.97 * value("graphics_memory_total")),
    graphics = at_least("graphics_load", 95),
    processor = at_least("processor_load", 90),
    `one thread` = at_least("busiest_core_load", 90)
  )
}

#' The limiting part of a pass, with its evidence in numbers
#'
#' @param series From `sensor_series()`, or `NULL` without sensors.
#' @return Data frame of one row: `limiting`, `share` (percent of the seconds in
#'   which that part was at its limit), `evidence` (a code).
#' @noRd
limiting_part <- function(series) {
  if (is.null(series) || nrow(series) < 3) {
    return(limiting_row("unknown", NA_real_, new_code("no_sensors")))
  }
  by_second <- limiting_by_second(series)
  parts <- c(limiting_parts, "unknown")
  share <- 100 * tabulate(match(by_second$limiting, parts), length(parts)) / nrow(by_second)
  names(share) <- parts
  # a part that limits a third of the time is what to look at
  named <- share[setdiff(limiting_parts, "none seen")]
  rest <- if (share[["unknown"]] > 50) "unknown" else "none seen"
  part <- if (max(named) >= 33) names(named)[which.max(named)] else rest
  limiting_row(part, as.numeric(share[[part]]), limit_evidence(series, part))
}

limited_by_frames <- function(fps) limiting_row("limiter", 100, new_code("frames_held", fps = fps))

#' What held a pass or a flip back, by its sensors
#' @noRd
span_limits <- function(span, about) {
  if (!is.na(span$segment)) {
    return(NULL)
  }
  series <- about$series
  if (!is.na(span$part)) {
    frames <- take_rows(about$frames, span$inside)
    series <- series_within(series, frames$start_s, frames$frame_time_ms)
  }
  list2DF(c(list(part = span$part), limiting_part(series)))
}

limiting_row <- function(part, share, evidence) {
  list2DF(list(limiting = part, share = share, evidence = list(evidence)))
}

#' What one needs to see to believe it, and what would have to be seen
#' @return A code with the mean of each series, and the loads that have no sensor.
#' @noRd
limit_evidence <- function(series, part) {
  shown <- switch(part,
    heat = c("processor_temperature", "processor_clock"),
    power = c("processor_power", "processor_limit", "graphics_power"),
    `graphics memory` = c("graphics_memory", "graphics_memory_total"),
    c("processor_load", "busiest_core_load", "graphics_load")
  )
  there <- intersect(shown, names(series))
  missing <- if (part == "unknown") setdiff(c("processor_load", "graphics_load"), names(series))
  new_code("series", means = lapply(series[there], mean, na.rm = TRUE), missing = missing)
}
