# What happened in a pass, from the evidence that the runner has.

#' Decide the outcome of a pass
#'
#' @param seen A list: `status`, `signal`, `timed_out`, `interrupted`, `refused`
#'   (a code, or `NULL`), `mismatch` (a code, or `NULL`), `missing` (names of scores or
#'   logs that are not there), `frames_seconds`, `planned_seconds`.
#' @return A list: `outcome`, `why` (a code, or `NULL`).
#' @noRd
decide_outcome <- function(seen) {
  say <- function(outcome, ...) list(outcome = outcome, why = if (...length()) new_code(...))
  if (isTRUE(seen$interrupted)) {
    return(say("interrupted", "stopped"))
  }
  # whatever the arm, no pass of it was run
  if (!is.null(seen$not_started)) {
    return(say("interrupted", "not_started", said = seen$not_started))
  }
  if (!is.null(seen$refused)) {
    return(list(outcome = "no_start", why = seen$refused))
  }
  if (!is.null(seen$mismatch)) {
    return(list(outcome = "wrong_setting", why = seen$mismatch))
  }
  if (isTRUE(seen$timed_out)) {
    return(say("timeout", "time_limit"))
  }
  if (!is.na(empty_to(seen$signal, NA))) {
    return(say("crash", "signal", signal = seen$signal))
  }
  if (isTRUE(seen$status != 0)) {
    return(say("crash", "exit_status", status = seen$status))
  }
  if (length(seen$missing)) {
    return(say("lost", "nothing_found", missing = seen$missing))
  }
  both <- !is.null(seen$frames_seconds) && !is.null(seen$planned_seconds)
  if (both && seen$frames_seconds < 0.5 * seen$planned_seconds) {
    return(say("interrupted", "short_log", seconds = seen$frames_seconds, planned = seen$planned_seconds))
  }
  say("ok")
}

#' Does the value read back agree with what was asked for?
#'
#' @param asked,read Text.
#' @param factor What the shown value is multiplied with.
#' @param tolerance Share by which numbers may differ.
#' @return `NULL` when it agrees, else a code.
#' @noRd
setting_mismatch <- function(asked, read, factor = 1, tolerance = 0) {
  a <- suppressWarnings(as.numeric(asked))
  r <- suppressWarnings(as.numeric(sub("[^0-9.eE+-].*$", "", trimws(read)))) * factor
  text <- is.na(a) || is.na(r)
  agrees <- if (text) identical(trimws(asked), trimws(read)) else abs(r - a) <= (tolerance + 1e-9) * abs(a)
  if (!agrees) new_code("mismatch", asked = asked, read = read, factor = factor)
}

#' Is a typed value far from what this pass usually gives?
#' @param earlier Values of the same workload and metric.
#' @noRd
looks_odd <- function(value, earlier) {
  earlier <- earlier[is.finite(earlier)]
  if (!length(earlier) || !is.finite(value)) {
    return(FALSE)
  }
  if (length(earlier) == 1) {
    return(abs(value) > 3 * abs(earlier) || abs(value) < abs(earlier) / 3)
  }
  middle <- stats::median(earlier)
  spread <- max(stats::mad(earlier), abs(middle) * 0.02)
  abs(value - middle) > 8 * spread
}
