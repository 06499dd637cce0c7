# Made-up passes with known truth, for the demo, the stand-in game and the tests.

#' Simulate the frame times of one pass
#'
#' Frame times wander (autocorrelated on the log scale), fall into short busy
#' spells, stutter, load at the start and may be held at a limit.
#'
#' @param seconds Length of the pass.
#' @param mean_ms Usual frame time.
#' @param spread,memory Standard deviation (log scale) and lag-1 autocorrelation
#'   of the wandering.
#' @param busy_share,busy_factor Share of time in busy spells, and how much
#'   longer frames take in them.
#' @param stutters_per_min,stutter_ms Rate and mean extra time of stutters.
#' @param loading_seconds Slow frames at the start.
#' @param limit_ms `NULL`, or the shortest frame time a limiter allows.
#' @param seed Integer; the same seed gives the same pass.
#' @return Numeric vector of frame times in ms.
#' @export
#' @examples
#' frame_summary(simulate_frames(20, mean_ms = 8, seed = 1))[["fps_avg"]]
simulate_frames <- function(seconds, mean_ms, spread = 0.06, memory = 0.7, busy_share = 0.03,
                            busy_factor = 1.35, stutters_per_min = 4, stutter_ms = 30,
                            loading_seconds = 1, limit_ms = NULL, seed = NULL) {
  checkmate::assert_number(seconds, lower = 0.1)
  checkmate::assert_number(mean_ms, lower = 1e-3)
  draw <- function() {
    n <- ceiling(1.5 * seconds * 1000 / max(mean_ms, limit_ms)) + 100
    wander <- stats::filter(stats::rnorm(n, sd = spread * sqrt(1 - memory^2)), memory, "recursive")
    x <- mean_ms * exp(as.numeric(wander) + log(busy_factor) * busy_spells(n, busy_share))
    if (!is.null(limit_ms)) x <- pmax(x, limit_ms) * (1 + stats::rnorm(n, sd = 0.002))
    hit <- stats::runif(n) < stutters_per_min / 60000 * max(mean_ms, limit_ms)
    x[hit] <- x[hit] + 15 + stats::rexp(sum(hit), 1 / stutter_ms)
    loading <- cumsum(x) < loading_seconds * 250
    x[loading] <- x[loading] * (2 + 2 * stats::runif(sum(loading)))
    x[seq_len(sum(cumsum(x) <= seconds * 1000))]
  }
  if (is.null(seed)) draw() else seeded(seed, draw())
}

busy_spells <- function(n, share, length = 12) {
  starts <- which(stats::runif(n) < share / length)
  inside <- rep(starts, each = length) + seq_len(length) - 1
  seq_len(n) %in% inside
}
