# The metrics of frame times. The kernel works all of them out in one go; here
# stands what they mean. Definitions that the trade uses side by side under one
# name ("1 % low") have one id each.

score_metric <- function() {
  new_metric("score", "score", "points", "higher", "percent", "as reported by the workload")
}

# the tester's own come first, so that they may describe a known one anew
known_metrics <- function(extra = list(), floors = c(30, 60)) {
  c(extra, frame_metrics(floors), list(score_metric()), built_in_sensor_metrics)
}

frame_metrics <- function(floors = c(30, 60)) {
  c(
    rate_metrics(), percentile_metrics(), low_metrics(), stutter_metrics(),
    lapply(floors, floor_metric), extent_metrics()
  )
}

rate_metrics <- function() {
  list(
    new_metric("fps_avg", "average", "fps", "higher", "percent", "frames over elapsed time"),
    new_metric("fps_median", "median", "fps", "higher", "percent", "1000 over the median frame time (ms)"),
    new_metric(
      "fps_min", "slowest second", "fps", "higher", "percent",
      "frames in the slowest whole second; frames across a border count by their share"
    ),
    new_metric(
      "fps_max", "fastest second", "fps", "higher", "percent",
      "frames in the fastest whole second; frames across a border count by their share"
    )
  )
}

percentile_metrics <- function() {
  one <- function(id, label, share) {
    new_metric(
      id, label, "ms", "lower", "percent",
      paste0("frame time that ", share, " % of frames do not exceed (type 7 quantile)")
    )
  }
  list(
    one("ms_p50", "median frame time", "50"), one("ms_p95", "95 % frame time", "95"),
    one("ms_p99", "99 % frame time", "99"), one("ms_p999", "99.9 % frame time", "99.9")
  )
}

low_metrics <- function() {
  one <- function(id, label, definition) new_metric(id, label, "fps", "higher", "percent", definition)
  list(
    one("low1_quantile", "1 % low (quantile)", "1000 over the 99 % quantile of frame time (ms)"),
    one("low01_quantile", "0.1 % low (quantile)", "1000 over the 99.9 % quantile of frame time (ms)"),
    one("low1_mean", "1 % low (mean)", "1000 over the mean of the slowest 1 % of frames (ms)"),
    one("low01_mean", "0.1 % low (mean)", "1000 over the mean of the slowest 0.1 % of frames (ms)"),
    one("low1_time", "1 % low (time)", "the rate that frames exceed for 99 % of the time"),
    one("low01_time", "0.1 % low (time)", "the rate that frames exceed for 99.9 % of the time")
  )
}

stutter_metrics <- function() {
  what <- "frames over 2.5 times the running median of the 61 frames around and at least 8 ms above it"
  list(
    new_metric("stutters_per_min", "stutters", "/min", "lower", "absolute", paste0(what, ", per minute")),
    new_metric(
      "stutter_share", "time lost to stutters", "%", "lower", "absolute",
      paste0("time above that running median in ", what, ", over elapsed time")
    ),
    new_metric(
      "pacing_ms", "pacing", "ms", "lower", "percent", "median absolute difference between neighbouring frames"
    )
  )
}

floor_metric <- function(fps) {
  new_metric(
    paste0("below_", fps), paste("time below", fps, "fps"), "%", "lower", "absolute",
    paste("share of elapsed time in frames slower than", fps, "fps")
  )
}

extent_metrics <- function() {
  list(
    new_metric("frames", "frames", "", "none", "percent", "number of frames"),
    new_metric("seconds", "length", "s", "none", "percent", "elapsed time, the sum of the frame times")
  )
}

# Which metrics a limiter hides: those that say how fast frames come when
# nothing stops them. Percentiles count when they sit at the limit.
ceiling_metrics <- c("fps_avg", "fps_median", "fps_max", "ms_p50")
percentile_at_limit <- c("ms_p95", "ms_p99", "ms_p999")

# told in percent, but 0 is a value: frames that all take the same time
metrics_at_zero <- "pacing_ms"

# Tail metrics and the share of frames that lie behind each
tail_shares <- c(
  ms_p95 = 0.05, ms_p99 = 0.01, ms_p999 = 0.001, low1_quantile = 0.01, low01_quantile = 0.001,
  low1_mean = 0.01, low01_mean = 0.001, low1_time = 0.01, low01_time = 0.001
)
