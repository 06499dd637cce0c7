# A pass that begins slower, or faster, than it goes on: loading, a menu, a cold start.

#' How long the start of a pass is unlike the rest of it
#'
#' The level is the median frame of each slice of time; the last two fifths of the pass say what is usual, and how much
#' slices move by themselves. The start ends where three slices in a row are usual.
#' @param frame_time_ms Numeric vector.
#' @return `NULL`, or a list: `seconds`, `factor` (frame time at the start over the usual one).
#' @noRd
find_loading <- function(frame_time_ms) {
  total <- sum(frame_time_ms)
  width <- max(100, total / 400, 4 * stats::median(frame_time_ms))
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
  # one slice alone is a stutter, and what takes half of the pass is no start
  if (is.na(run) || run < 2 || run > n / 2) {
    return(NULL)
  }
  # slices hold whole frames, so they are a little longer than their width
  list(seconds = round(run * width / 1000, 2), factor = exp(stats::median(level[seq_len(run)]) - stats::median(rest)))
}

register("check", "loads", scope = "capture", run = function(pass, frames) {
  found <- find_loading(frames)
  if (!is.null(found)) {
    new_finding("note", "loads", seconds = found$seconds, factor = found$factor, pass = pass$pass)
  }
})

# one finding of a workload: the passes of all arms, or of some only
register("check", "loading", scope = "study", run = function(study) {
  loads <- study$captured[study$captured$code == "loads", , drop = FALSE]
  passes <- study$passes[study$passes$pass %in% with_frames(study) & ran_well(study$passes), , drop = FALSE]
  passes <- passes[!duplicated(passes$pass), , drop = FALSE]
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(passes)), passes$workload), function(at) {
    here <- passes[at, , drop = FALSE]
    found <- loads[loads$pass %in% here$pass, , drop = FALSE]
    if (nrow(found) >= max(2, 0.1 * nrow(here))) loading_finding(found, here)
  }))
})

loading_finding <- function(found, here) {
  number <- function(name) vapply(found$values, function(v) as.numeric(v[[name]]), 1)
  seconds <- number("seconds")
  by_arm <- tapply(here$pass %in% found$pass, here$arm, mean)
  # where every pass begins alike, no arm is favoured
  alike <- nrow(found) >= 0.9 * nrow(here) && max(seconds) <= 3 * min(seconds) + 0.3
  uneven <- length(by_arm) > 1 && max(by_arm) - min(by_arm) > 0.5
  new_finding(
    if (alike || !uneven) "note" else "warning", "loading",
    n = nrow(found), of = nrow(here), from = min(seconds), to = max(seconds), factor = stats::median(number("factor")),
    trim = ceiling(2 * max(seconds)) / 2, uneven = uneven, workload = here$workload[1]
  )
}

with_frames <- function(study) unique(study$readings$pass[study$readings$metric == "frames"])
