# Parts of a pass that sit at half the rate of the rest, as where frames wait for every second refresh.

#' Stretches at half the rate
#'
#' The level is the median frame of each half second. A stretch is a run of at least three seconds whose levels lie
#' within 4 % of twice the usual frame time of the faster part, each within 3 % of the others.
#' @param frame_time_ms Numeric vector.
#' @return Data frame: `start_s`, `end_s`, `rate` (frames per second in it), `usual` (in the faster part); no rows where
#'   there is none.
#' @noRd
half_rate_stretches <- function(frame_time_ms) {
  none <- data.frame(start_s = numeric(), end_s = numeric(), rate = numeric(), usual = numeric())
  width <- 500
  if (sum(frame_time_ms) < 12 * width) {
    return(none)
  }
  level <- slice_medians(frame_time_ms, width)
  # the faster part: what the quickest quarter of the pass takes
  usual <- stats::median(level[level <= stats::quantile(level, 0.25, names = FALSE) * 1.1])
  slow <- abs(level / usual / 2 - 1) <= 0.04
  runs <- rle(slow)
  end <- cumsum(runs$lengths)
  begin <- end - runs$lengths + 1
  # slices hold whole frames, so each is a little longer than its width
  each <- sum(frame_time_ms) / length(level) / 1000
  found <- which(runs$values & runs$lengths * each >= 3)
  even <- vapply(found, function(i) {
    part <- level[begin[i]:end[i]]
    max(abs(part / stats::median(part) - 1)) <= 0.03
  }, NA)
  found <- found[even]
  if (!length(found)) {
    return(none)
  }
  data.frame(
    start_s = (begin[found] - 1) * each, end_s = end[found] * each,
    rate = vapply(found, function(i) 1000 / stats::median(level[begin[i]:end[i]]), 1), usual = 1000 / usual
  )
}
