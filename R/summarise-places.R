# Where each frame of a pass stands between its marks, and what does not count.

#' Where each frame of a pass stands
#'
#' A frame counts only where its whole span lies inside what counts: one that reaches into a pause, or over a
#' flip of the setting, shows the loading in between.
#' @param frames Data frame: `start_s` (when each frame began, in seconds, rising), `frame_time_ms`.
#' @param marks Data frame `time_s`, `word` (see `mark_words`), `value`.
#' @param settle_s Seconds after a flip of the setting that do not count.
#' @param gap_s A frame at least this long is a gap (a hidden window, a loading
#'   screen), no frame.
#' @param trim_s Seconds at the start of the pass that do not count.
#' @return `NULL` where every frame counts and nothing is marked; else a data frame, one
#'   row per frame: `counts`, `why_not` (`pause`, `gap`,
#'   `settling`, `trimmed`, or empty), `segment`, `arm`, `flip` and `loop` (how many there
#'   were so far).
#' @noRd
frame_places <- function(frames, marks = no_marks(), settle_s = 0, gap_s = 5, trim_s = 0) {
  gap <- frames$frame_time_ms >= 1000 * gap_s
  early <- trim_s > 0 & frames$start_s < frames$start_s[1] + trim_s
  if (!nrow(marks) && !any(gap) && !any(early)) {
    return(NULL)
  }
  marks <- marks[order(marks$time_s), , drop = FALSE]
  # rounding of either aside: a mark between two frames belongs to the second
  begins <- frames$start_s + 1e-6
  ends <- pmax(begins, frames$start_s + frames$frame_time_ms / 1000 - 1e-6)
  last_of <- function(words) {
    those <- marks[marks$word %in% words, , drop = FALSE]
    at <- findInterval(begins, those$time_s)
    list(
      value = c(NA_character_, those$value)[at + 1], word = c(NA_character_, those$word)[at + 1],
      time = c(NA_real_, those$time_s)[at + 1], count = at,
      # the frame lies on both sides of a mark, so it is of neither
      crossed = findInterval(ends, those$time_s) > at
    )
  }
  segments <- last_of("segment")
  segment <- replace(segments$value, segments$crossed | !nzchar(segments$value), NA)
  flips <- last_of("arm")
  pauses <- last_of(c("pause", "resume"))
  paused <- pauses$word %in% "pause" | pauses$crossed
  settling <- flips$crossed | (!is.na(flips$time) & frames$start_s < flips$time + settle_s)
  # the last one said stands
  why_not <- character(nrow(frames))
  why_not[early] <- "trimmed"
  why_not[settling] <- "settling"
  why_not[gap] <- "gap"
  why_not[paused] <- "pause"
  list2DF(list(
    counts = !nzchar(why_not), why_not = why_not, segment = segment, arm = flips$value, flip = flips$count,
    loop = last_of("loop")$count
  ))
}

#' How well a level is held: last quarter of the time over the first, and loop by loop
#'
#' @return Named numeric: `level_held` (percent), `slope_per_loop` (percent a
#'   loop, least squares on the logarithm of each loop's rate; `NA` under three loops).
#' @noRd
held_level <- function(frame_time_ms, loop = NULL) {
  at <- cumsum(frame_time_ms)
  n <- length(at)
  total <- at[n]
  first <- findInterval(0.25 * total, at)
  third <- findInterval(0.75 * total, at)
  quarters <- n >= 8 && first > 0 && third > 0 && third < n
  c(
    level_held = if (quarters) 100 * ((n - third) / (total - at[third])) / (first / at[first]) else NA_real_,
    slope_per_loop = if (any(loop > 0)) loop_slope(frame_time_ms[loop > 0], loop[loop > 0]) else NA_real_
  )
}

loop_slope <- function(frame_time_ms, loop) {
  y <- vapply(split(frame_time_ms, loop), function(x) log(length(x) / sum(x)), 1)
  if (length(y) < 3) NA_real_ else 100 * expm1(stats::cov(seq_along(y), y) / stats::var(seq_along(y)))
}
