# What happened in a pass, from the evidence that the runner has.

#' Decide the outcome of a pass
#'
#' @param seen A list: `status`, `signal`, `timed_out`, `interrupted`, `refused`
#'   (text, or `NULL`), `mismatch` (text, or `NULL`), `missing` (names of scores or
#'   logs that are not there), `frames_seconds`, `planned_seconds`.
#' @return A list: `outcome`, `detail`.
#' @noRd
decide_outcome <- function(seen) {
  say <- function(outcome, detail = NA_character_) list(outcome = outcome, detail = detail)
  if (isTRUE(seen$interrupted)) {
    return(say("interrupted", "stopped by the tester"))
  }
  if (!is.null(seen$refused)) {
    return(say("no_start", seen$refused))
  }
  if (!is.null(seen$mismatch)) {
    return(say("wrong_setting", seen$mismatch))
  }
  if (isTRUE(seen$timed_out)) {
    return(say("timeout", "ran into the time limit"))
  }
  if (!is.na(empty_to(seen$signal, NA))) {
    return(say("crash", paste("ended by signal", seen$signal)))
  }
  if (isTRUE(seen$status != 0)) {
    return(say("crash", paste("exit status", seen$status)))
  }
  if (length(seen$missing)) {
    return(say("lost", paste("no", some_of(seen$missing), "to be found after the pass")))
  }
  both <- !is.null(seen$frames_seconds) && !is.null(seen$planned_seconds)
  if (both && seen$frames_seconds < 0.5 * seen$planned_seconds) {
    return(say(
      "interrupted",
      paste0("frame log of ", round(seen$frames_seconds, 1), " s where ", seen$planned_seconds, " s were planned")
    ))
  }
  say("ok")
}

#' Does the value read back agree with what was asked for?
#'
#' @param asked,read Text.
#' @param factor What the shown value is multiplied with.
#' @param tolerance Share by which numbers may differ.
#' @return `NULL` when it agrees, else the words for it.
#' @noRd
setting_mismatch <- function(asked, read, factor = 1, tolerance = 0) {
  a <- suppressWarnings(as.numeric(asked))
  r <- suppressWarnings(as.numeric(sub("[^0-9.eE+-].*$", "", trimws(read)))) * factor
  text <- is.na(a) || is.na(r)
  agrees <- if (text) identical(trimws(asked), trimws(read)) else abs(r - a) <= (tolerance + 1e-9) * abs(a)
  if (!agrees) paste0("asked for ", asked, ", read back ", read, if (factor != 1) paste0(" x ", factor))
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
