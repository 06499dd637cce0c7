# A trace has far more frames than a figure has pixels; the slowest frame of
# every slice must survive the thinning, since that is what people look for.

#' Thin a trace to slices of equal time
#'
#' @param frame_time_ms Frame times of one pass.
#' @param slices How many.
#' @return Data frame, one row per slice that holds a frame: `time_s` (middle of
#'   the slice), `fastest_ms`, `median_ms`, `slowest_ms`.
#' @noRd
thin_trace <- function(frame_time_ms, slices = 600) {
  start <- cumsum(frame_time_ms) - frame_time_ms
  length_ms <- sum(frame_time_ms) / slices
  slice <- pmin(slices, start %/% length_ms + 1)
  parts <- split(frame_time_ms, slice)
  of <- function(f) vapply(parts, f, 1, USE.NAMES = FALSE)
  data.frame(
    time_s = (as.numeric(names(parts)) - 0.5) * length_ms / 1000,
    fastest_ms = of(min), median_ms = of(stats::median), slowest_ms = of(max)
  )
}

# the series worth a panel, in the order in which a reader asks
shown_series <- c(
  graphics_load = "graphics load (%)", busiest_core_load = "busiest core, load (%)",
  processor_load = "processor load (%)",
  processor_clock = "processor clock (MHz)", graphics_clock = "graphics clock (MHz)",
  processor_temperature = "processor temperature (C)", graphics_temperature = "graphics temperature (C)",
  processor_power = "processor power (W)", graphics_power = "graphics power (W)"
)

#' Thin sensor series to slices of equal time
#'
#' @return Data frame: `series`, `label`, `time_s`, `value` (mean of the slice).
#' @noRd
thin_series <- function(series, slices = 240) {
  time <- series$time_s
  slice <- if (length(time) > slices) {
    floor(slices * (time - min(time)) / (max(time) - min(time) + 1e-9))
  } else {
    seq_along(time)
  }
  middle <- as.numeric(tapply(time, slice, mean))
  parts <- lapply(intersect(names(shown_series), names(series)), function(name) {
    value <- as.numeric(tapply(
      series[[name]], slice, function(v) if (any(is.finite(v))) mean(v, na.rm = TRUE) else NA
    ))
    data.frame(series = name, label = shown_series[[name]], time_s = middle, value = value)
  })
  do.call(rbind, parts)
}
