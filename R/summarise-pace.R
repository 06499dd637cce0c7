# How a pass moves along: a start unlike the rest, and its pace from there on.

#' How long the start of a pass is unlike the rest of it
#'
#' The level is the median frame of each slice of time; the last two fifths of the pass say what is usual, and how much
#' slices move by themselves. The start ends where three slices in a row are usual.
#' @param frame_time_ms Numeric vector.
#' @return `NULL`, or a list: `seconds`, `factor` (frame time at the start over the usual one).
#' @noRd
find_loading <- function(frame_time_ms) {
  total <- sum(frame_time_ms)
  width <- max(100, total / 400, 4 * total / length(frame_time_ms))
  if (length(frame_time_ms) < 60 || total < 20 * width) {
    return(NULL)
  }
  level <- log(slice_medians(frame_time_ms, width))
  n <- length(level)
  rest <- level[seq(ceiling(0.6 * n), n)]
  # a very even pass still moves by a few percent at the start without anything being loaded
  away <- (level - stats::median(rest)) / max(5 * stats::mad(rest), log(1.25))
  if (abs(away[1]) <= 1 && abs(away[2]) <= 1) {
    return(NULL)
  }
  side <- sign(away[if (abs(away[1]) > 1) 1 else 2])
  usual <- which(side * away <= 1)
  ends <- usual[usual > 1 & (usual + 1) %in% usual & (usual + 2) %in% usual][1]
  run <- ends - 1
  # one slice alone is a stutter, and what takes near to half of the pass is no start
  if (is.na(run) || run < 2 || run > 0.4 * n) {
    return(NULL)
  }
  # unlike what comes right after it too: a scene that is heavy at its end has no loading at its start
  next_to <- level[run + seq_len(min(3 * run, n - run))]
  if (side * (stats::median(level[seq_len(run)]) - stats::median(next_to)) < log(1.2)) {
    return(NULL)
  }
  # slices hold whole frames, so they are a little longer than their width
  list(seconds = round(run * width / 1000, 2), factor = exp(stats::median(level[seq_len(run)]) - stats::median(rest)))
}

pace_shares <- 30L

#' The pace of a pass: its median frame in each of thirty equal parts, after its start
#' @param from How many seconds that takes, 0 for none.
#' @return `NULL` for next to nothing, or a data frame of one row: `from_s` (where it begins), `part_s`
#'   (length of a part), `begins` (see `first_frames()`), `levels` (a list of one: logarithms of the medians, none where
#'   a pass is too short for that).
#' @noRd
find_pace <- function(frame_time_ms, from = 0) {
  if (length(frame_time_ms) < begin_frames) {
    return(NULL)
  }
  total <- sum(frame_time_ms) / 1000
  levels <- if (length(frame_time_ms) >= 10 * pace_shares && total >= 5) {
    signif(log(share_medians(frame_time_ms, 1000 * from, pace_shares)), 7)
  }
  if (is.null(levels) || anyNA(levels)) levels <- numeric()
  list2DF(list(
    from_s = from, part_s = (total - from) / pace_shares, begins = first_frames(frame_time_ms), levels = list(levels)
  ))
}

begin_frames <- 64L

# a number that two passes share only where their first frames are the same; none where these are all alike anyhow
first_frames <- function(frame_time_ms) {
  first <- frame_time_ms[seq_len(begin_frames)]
  if (length(unique(first)) < 16) NA_real_ else signif(sum(first * sqrt(seq_along(first))), 12)
}
