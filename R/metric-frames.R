# The metrics of frame times. The kernel works all of them out in one go; here
# stands what they mean. Definitions that the trade uses side by side under one
# name ("1 % low") have one id each.

frame_metrics <- function(floors = c(30, 60)) {
  c(
    rate_metrics(), percentile_metrics(), low_metrics(), stutter_metrics(),
    lapply(floors, floor_metric), extent_metrics()
  )
}

# A limiter hides what says how fast frames come when nothing stops them
# (`hidden = "always"`), and a percentile where it sits at the limit (`"at_limit"`).
rate_metrics <- function() {
  rate <- function(id, label, definition, hidden) {
    new_metric(id, label, "fps", "higher", "percent", definition, hidden = hidden)
  }
  second <- "whole second; frames across a border count by their share"
  list(
    rate("fps_avg", "average", "frames over elapsed time", "always"),
    rate("fps_median", "median", "1000 over the median frame time (ms)", "always"),
    rate("fps_min", "slowest second", paste("frames in the slowest", second), "never"),
    rate("fps_max", "fastest second", paste("frames in the fastest", second), "always")
  )
}

percentile_metrics <- function() {
  one <- function(id, label, share, tail = NA_real_) {
    new_metric(
      id, label, "ms", "lower", "percent",
      paste0("frame time that ", share, " % of frames do not exceed (type 7 quantile)"),
      hidden = if (is.na(tail)) "always" else "at_limit", tail = tail
    )
  }
  list(
    one("ms_p50", "median frame time", "50"), one("ms_p95", "95 % frame time", "95", 0.05),
    one("ms_p99", "99 % frame time", "99", 0.01), one("ms_p999", "99.9 % frame time", "99.9", 0.001)
  )
}

# `tail`: the share of frames that lie behind a metric
low_metrics <- function() {
  made_once("lows", function() {
    one <- function(id, label, definition, tail) {
      new_metric(id, label, "fps", "higher", "percent", definition, tail = tail)
    }
    list(
      one("low1_quantile", "1 % low (quantile)", "1000 over the 99 % quantile of frame time (ms)", 0.01),
      one("low01_quantile", "0.1 % low (quantile)", "1000 over the 99.9 % quantile of frame time (ms)", 0.001),
      one("low1_mean", "1 % low (mean)", "1000 over the mean of the slowest 1 % of frames (ms)", 0.01),
      one("low01_mean", "0.1 % low (mean)", "1000 over the mean of the slowest 0.1 % of frames (ms)", 0.001),
      one("low1_time", "1 % low (time)", "the rate that frames exceed for 99 % of the time", 0.01),
      one("low01_time", "0.1 % low (time)", "the rate that frames exceed for 99.9 % of the time", 0.001)
    )
  })
}

#' Other ways in which the trade computes the same thing
#' @noRd
other_definitions <- function(id) {
  alike <- c(split(names_of(low_metrics()), vapply(low_metrics(), `[[`, 1, "tail")), list(c("fps_avg", "fps_median")))
  setdiff(unlist(Filter(function(ids) id %in% ids, alike), use.names = FALSE), id)
}

names_of <- function(metrics) vapply(metrics, `[[`, "", "id")

stutter_metrics <- function() {
  # A display shows a picture for whole frame times: a frame of twice the usual keeps it at least one too long. 8 ms
  # are half a frame at 60 fps, below which nothing is missed.
  what <- paste(
    "frames at least twice as long as the median of the 61 frames around (a picture kept at least one whole frame time",
    "too long) and at least 8 ms longer"
  )
  list(
    new_metric(
      "stutters_per_min", "stutters", "/min", "lower", "absolute", paste0(what, ", per minute"),
      counts = "minute"
    ),
    new_metric(
      "deep_drops", "deep drops", "", "lower", "absolute", paste(
        "stretches of at least 0.1 s in which every frame takes more than three times the pass's median frame time"
      ),
      counts = "pass"
    ),
    new_metric(
      "stutter_share", "time lost to stutters", "%", "lower", "absolute",
      paste0("time above that median in ", what, ", over elapsed time")
    ),
    # told in percent, but 0 is a value: frames that all take the same time
    new_metric(
      "pacing_ms", "pacing", "ms", "lower", "percent", "median absolute difference between neighbouring frames",
      zero = TRUE
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

# Of the frames and loops of a pass, so they come without any sensor
held_metrics <- function() {
  list(
    new_metric(
      "level_held", "level held", "%", "higher", "absolute", "average rate of the last quarter over the first"
    ),
    new_metric(
      "slope_per_loop", "slope per loop", "%", "higher", "absolute", "change of the average rate from loop to loop"
    )
  )
}
