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
  # sorted within its slice, each has its least, its middle and its most at known places
  x <- frame_time_ms[order(slice, frame_time_ms)]
  n <- tabulate(slice, slices)
  there <- which(n > 0)
  n <- n[there]
  last <- cumsum(n)
  first <- last - n + 1
  data.frame(
    time_s = (there - 0.5) * length_ms / 1000,
    fastest_ms = x[first], median_ms = (x[first + (n - 1) %/% 2] + x[first + n %/% 2]) / 2, slowest_ms = x[last]
  )
}

#' Thin sensor series to slices of equal time
#'
#' @return Data frame: `series`, `unit`, `time_s`, `value` (mean of the slice), the series in the
#'   order in which they are drawn.
#' @noRd
thin_series <- function(series, slices = 240) {
  time <- series$time_s
  # a slice a sample, where there are few: nothing to average
  averaged <- function(values) ifelse(is.finite(values), values, NA_real_)
  if (length(time) > slices) {
    slice <- floor(slices * (time - min(time)) / (max(time) - min(time) + 1e-9))
    averaged <- function(values) {
      as.numeric(tapply(values, slice, function(v) if (any(is.finite(v))) mean(v, na.rm = TRUE) else NA))
    }
  }
  drawn <- vapply(names(series), function(name) empty_to(series_about(name)$drawn, NA_real_), 1)
  shown <- names(series)[order(drawn, na.last = NA)]
  middle <- averaged(time)
  data.frame(
    series = rep(shown, each = length(middle)),
    unit = rep(vapply(shown, function(name) series_about(name)$unit, ""), each = length(middle)),
    time_s = rep(middle, length(shown)), value = as.numeric(unlist(lapply(series[shown], averaged)))
  )
}
