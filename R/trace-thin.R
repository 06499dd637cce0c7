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
