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

#' Thin sensor series to slices of equal time
#'
#' @return Data frame: `series`, `unit`, `time_s`, `value` (mean of the slice), the series in the
#'   order in which they are drawn.
#' @noRd
thin_series <- function(series, slices = 240) {
  time <- series$time_s
  slice <- if (length(time) > slices) {
    floor(slices * (time - min(time)) / (max(time) - min(time) + 1e-9))
  } else {
    seq_along(time)
  }
  middle <- as.numeric(tapply(time, slice, mean))
  drawn <- vapply(names(series), function(name) empty_to(series_about(name)$drawn, NA_real_), 1)
  parts <- lapply(names(series)[order(drawn, na.last = NA)], function(name) {
    value <- as.numeric(tapply(
      series[[name]], slice, function(v) if (any(is.finite(v))) mean(v, na.rm = TRUE) else NA
    ))
    data.frame(series = name, unit = series_about(name)$unit, time_s = middle, value = value)
  })
  do.call(rbind, parts)
}
