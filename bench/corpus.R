# A labelled corpus of made-up passes, by seed and from ranges; what the checks see in it. Sourced by bench/checks.R.
inside <- asNamespace("honestmargin")
between <- function(low, high) stats::runif(1, low, high)
log_between <- function(low, high) exp(between(log(low), log(high)))

# frame times that wander (autocorrelated on the log scale), with stutters
free_pass <- function(seconds, mean_ms, jitter, memory = between(0, 0.9), stutters = between(0, 6)) {
  n <- ceiling(1.4 * seconds * 1000 / mean_ms) + 50
  wander <- stats::filter(stats::rnorm(n, sd = jitter * sqrt(1 - memory^2)), memory, "recursive")
  x <- mean_ms * exp(as.numeric(wander))
  hit <- stats::runif(n) < stutters / 60000 * mean_ms
  x[hit] <- x[hit] + 10 + stats::rexp(sum(hit), 1 / 30)
  x[cumsum(x) <= seconds * 1000]
}

# each frame takes what its work takes, or waits for the limit: for the next tick of a clock that goes on (`phase`), or
# until so much time has passed since the last one
limited_pass <- function(work, limit_ms, phase, jitter, share = 1) {
  n <- length(work)
  x <- numeric(n)
  at <- 0
  held <- cumsum(work) / sum(work) <= share
  for (k in seq_len(n)) {
    tick <- if (phase) ceiling((at + work[k]) / limit_ms - 1e-9) * limit_ms else at + max(work[k], limit_ms)
    ends <- if (held[k]) tick else at + work[k]
    x[k] <- ends - at
    at <- ends
  }
  # when a frame is seen wavers a little, whether or not the clock keeps its phase
  waver <- stats::rnorm(n, sd = jitter * limit_ms) * held
  x <- x + if (phase) waver - c(0, waver[-n]) else waver
  pmax(x, 0.05)
}

loading_pass <- function(seconds, factor, rest_seconds, mean_ms, jitter) {
  c(free_pass(seconds, mean_ms * factor, max(jitter, 0.05)), free_pass(rest_seconds, mean_ms, jitter))
}

limits_hz <- c(30, 59.94, 60, 75, 90, 120, 144, 165, 240)
