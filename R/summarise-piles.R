# Are the frames of a pass piled up at one level? What that means is judged over passes.

# what is known of the frames around the level of a pass, see `pile_of_frames()`
own_frames <- c("frames", "near", "mean_ms", "jitter", "memory", "wander")

#' Is a pass piled up at a limit?
#'
#' A limiter or the display puts most frames into a narrow band, and hardly any
#' is faster, since frames cannot come before their time.
#' @param frame_time_ms Frame times of one pass.
#' @return Named vector: `level_ms`, `share` of frames in a band 4 % wide,
#'   `faster` (share before it), `held`: 2 where the frames keep in phase with a clock for half of the time (`level_ms`
#'   is then its period, `share` the share of time), 1 where they only lie in a narrow band with few faster ones, else
#'   0; and of the frames around the level where half of them lie closest: `frames` (how many), `near` (their share),
#'   `mean_ms`, `jitter` (standard deviation over mean), `memory` (correlation of neighbours), `wander` (variance of the
#'   means of sixteen in a row against frames each on its own). `NA` where there are too few to tell.
#' @noRd
pile_of_frames <- function(frame_time_ms) {
  band <- densest_band(frame_time_ms, 0.04)
  n <- length(frame_time_ms)
  # a handful of frames lies close together by itself
  if (n < 30) {
    return(c(band, held = 0, stats::setNames(rep(NA_real_, length(own_frames)), own_frames)))
  }
  # about how long a period is, some thousand frames tell
  some <- sort(frame_time_ms[unique(round(seq(1, n, length.out = min(n, 10000))))])
  closest <- closest_half(some)
  around <- frames_near(frame_time_ms, closest$middle, max(3.5 * closest$spread, 0.001 * closest$middle))
  kept <- kept_phase(frame_time_ms, c(some[ceiling(length(some) * c(0.5, 0.7))], band[["level_ms"]]))
  if (kept$share >= 0.5) {
    return(c(level_ms = kept$period_ms, share = kept$share, faster = band[["faster"]], held = 2, around))
  }
  c(band, held = as.numeric(band[["share"]] >= 0.5 && band[["faster"]] <= 0.1), around)
}

#' Where half of the values lie closest together
#'
#' The shorth (Andrews et al., 1972, Robust Estimates of Location): stutters and frames of another kind do not move it.
#' @param x Numeric vector, sorted.
#' @return A list: `middle` (mean of that half), `spread` (standard deviation of a normal distribution as close).
#' @noRd
closest_half <- function(x) {
  n <- length(x)
  half <- ceiling(n / 2)
  widths <- x[half:n] - x[seq_len(n - half + 1)]
  first <- which.min(widths)
  list(middle = mean(x[first + seq_len(half) - 1]), spread = widths[first] / (2 * stats::qnorm(0.75)))
}

#' For what share of its time a pass keeps in phase with a clock
#'
#' Under a limit that keeps its phase, and on a display, what one frame is late the next is early: the sum of the frame
#' times stays near whole periods however far it goes. Frames that are free drift away from any clock as a random walk
#' does. Windows of up to 256 frames are held against a straight line. Of a phase that is kept, what is left is seven
#' tenths of the jitter of a frame, more where a busy machine lets several frames in a row come late. Of a walk of `n`
#' frames it is about `sqrt(n / 15)` times the jitter, and less than `0.14 sqrt(n)` in two windows of a hundred.
#' @param near Numeric vector: about how long a period may be, in ms.
#' @return A list: `share`, `period_ms`.
#' @noRd
kept_phase <- function(frame_time_ms, near) {
  n <- length(frame_time_ms)
  width <- min(256, n %/% 4)
  best <- list(share = 0, period_ms = NA_real_)
  if (width < 64) {
    return(best)
  }
  # of a long pass windows all over it say as much as all of them
  windows <- unique(round(seq(1, n %/% width, length.out = min(80, n %/% width))))
  most <- max(1.2, 0.14 * sqrt(width))
  for (about in unique(near)) {
    seen <- phase_of_windows(frame_time_ms, as.integer((windows - 1) * width), width, about, most)
    kept <- seen$kept
    period <- seen$period
    if (!any(kept)) next
    common <- stats::median(period[kept])
    # one limit, wherever in the pass
    share <- sum(seen$time[kept & abs(period / common - 1) < 0.002]) / sum(seen$time)
    if (share > best$share) best <- list(share = share, period_ms = common)
    if (share > 0.8) break
  }
  best
}
