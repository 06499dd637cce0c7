# Which part limits a pass: the evidence of its sensors, second by second.

limiting_parts <- c("limiter", "heat", "power", "graphics memory", "graphics", "processor", "one thread", "none seen")

#' The limiting part of each second of a pass
#'
#' Rules, the first that fits: heat: the counter of throttles rose, or the
#' temperature is within 3 degrees of its highest and that is at least 90 while the clock is under
#' 95 % of its best second; power: within 3 % of the power limit with the clock
#' under 97 % of its best; graphics memory: 97 % of it in use; graphics: load 95 %
#' or more; processor: load of all cores 90 % or more; one thread: the busiest core at
#' 90 % or more while the graphics part is not busy. The pass as a whole is held by a limiter when the frame
#' times say so (`find_ceilings()`), since no sensor shows that.
#'
#' @param series From `sensor_series()`.
#' @return Data frame: `second`, `limiting` (one of `limiting_parts` but `limiter`,
#'   or `unknown`), and the series that were looked at.
#' @noRd
limiting_by_second <- function(series) {
  names <- setdiff(intersect(names(series), c(names(sensor_kinds), limit_series)), c("swap_used", "fan_speed"))
  second <- floor(series$time_s - min(series$time_s))
  per <- as.data.frame(lapply(series[names], function(v) {
    as.numeric(tapply(v, second, function(x) if (any(is.finite(x))) mean(x, na.rm = TRUE) else NA_real_))
  }))
  if (!length(names)) per <- data.frame(row.names = seq_along(unique(second)))
  has <- function(name) !is.null(per[[name]])
  at_least <- function(name, level) if (has(name)) per[[name]] >= level & !is.na(per[[name]]) else rep(FALSE, nrow(per))
  slowed <- function(share) {
    if (!has("processor_clock")) {
      return(rep(FALSE, nrow(per)))
    }
    per$processor_clock < share * suppressWarnings(max(
      per$processor_clock, na.rm = TRUE
    )) & !is.na(per$processor_clock)
  }
  hottest <- if (has("processor_temperature")) suppressWarnings(max(
    per$processor_temperature, na.rm = TRUE
  )) else -Inf
  throttled <- has("throttles") & c(FALSE, diff(empty_to(per$throttles, rep(0, nrow(per)))) > 0) %in% TRUE
  hot <- throttled | (hottest >= 90 & at_least("processor_temperature", hottest - 3) & slowed(0.95))
  capped <- function(who) {
    has(paste0(who, "_power")) & has(paste0(who, "_limit")) &
      at_least(paste0(who, "_power"), 0.97 * empty_to(per[[paste0(who, "_limit")]], Inf))
  }
  full <- has("graphics_memory") & has("graphics_memory_total") &
    at_least("graphics_memory", 0.97 * empty_to(per$graphics_memory_total, Inf))
  graphics <- at_least("graphics_load", 95)
  limiting <- ifelse(hot, "heat", ifelse((capped("processor") & slowed(0.97)) | capped("graphics"), "power",
    ifelse(full, "graphics memory", ifelse(graphics, "graphics", ifelse(at_least("processor_load", 90), "processor",
      ifelse(at_least("busiest_core_load", 90), "one thread", "none seen")
    )))
  ))
  # nothing seen counts only where the two loads could be seen
  blind <- !has("processor_load") | !has("graphics_load")
  limiting[limiting == "none seen" & blind] <- "unknown"
  cbind(second = sort(unique(second)), limiting = limiting, per)
}

limit_series <- c("graphics_memory_total", "processor_limit", "graphics_limit", "throttles")

#' The limiting part of a pass, with its evidence in numbers
#'
#' @param series From `sensor_series()`, or `NULL` without sensors.
#' @param held `TRUE` where a limiter held the frame times, `level_fps` at which rate.
#' @return Data frame of one row: `limiting`, `share` (percent of the seconds in
#'   which that part was at its limit), `evidence`.
#' @noRd
limiting_part <- function(series, held = FALSE, level_fps = NA) {
  if (held) {
    return(data.frame(
      limiting = "limiter", share = 100, evidence = paste0("frames held at ", show_number(level_fps), " fps")
    ))
  }
  if (is.null(series) || nrow(series) < 3) {
    return(data.frame(limiting = "unknown", share = NA_real_, evidence = "no sensors"))
  }
  by_second <- limiting_by_second(series)
  share <- 100 * table(factor(by_second$limiting, c(limiting_parts, "unknown"))) / nrow(by_second)
  # a part that limits a third of the time is what to look at
  named <- share[setdiff(limiting_parts, "none seen")]
  rest <- if (share[["unknown"]] > 50) "unknown" else "none seen"
  part <- if (max(named) >= 33) names(named)[which.max(named)] else rest
  data.frame(limiting = part, share = as.numeric(share[[part]]), evidence = limit_evidence(series, part))
}

limit_evidence <- function(series, part) {
  # what one needs to see to believe it, and what would have to be seen
  shown <- switch(part,
    heat = c("processor_temperature", "processor_clock"),
    power = c("processor_power", "processor_limit", "graphics_power"),
    `graphics memory` = c("graphics_memory", "graphics_memory_total"),
    c("processor_load", "busiest_core_load", "graphics_load")
  )
  there <- intersect(shown, names(series))
  units <- c(
    vapply(sensor_kinds, `[`, "", 1), graphics_memory_total = "MB", processor_limit = "W", graphics_limit = "W"
  )
  words <- vapply(there, function(name) {
    unit <- units[[name]]
    paste0(
      gsub("_", " ", name), " ", format(round(mean(series[[name]], na.rm = TRUE))), " ", unit
    )
  }, "")
  missing <- gsub("_", " ", setdiff(c("processor_load", "graphics_load"), names(series)))
  if (part == "unknown" && length(missing)) words <- c(words, paste("no sensor of", missing))
  paste(words, collapse = ", ")
}
