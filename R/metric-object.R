# A metric carries what a judge must know about it: unit, direction, scale.

#' Describe a metric
#'
#' A metric knows its unit, which direction is better and on which scale
#' differences of it are told, so that nothing downstream has to guess.
#'
#' @param id Short name, as used in the readings table.
#' @param label Name for people.
#' @param unit Unit of the value, `""` for none.
#' @param better `"higher"`, `"lower"`, or `"none"` for a number that only
#'   describes the pass and is not weighed (frames, seconds).
#' @param scale `"percent"` (ratio of geometric means; values must be positive)
#'   or `"absolute"` (difference in the metric's unit).
#' @param definition One sentence: how the number is made.
#' @param step_s How coarse the instrument is where that depends on how long a pass is: a value may be off by
#'   half of `step_s / seconds`, in its unit. 0 where only its digits tell.
#' @param counts `"pass"` where the value counts events in a pass, `"minute"` where it is such a count per minute; its
#'   interval then is never narrower than chance makes it for so many events. `"no"` for all else.
#' @param ... Not used.
#' @param compute `NULL`, or a function that takes a numeric vector of frame
#'   times (ms) and returns one number. Metrics without it are read or typed.
#' @param tail Share of the frames that lie behind the metric, `NA` for all: with fewer
#'   than ten of them a finding warns.
#' @param hidden What a frame limiter does to it: `"always"` hides it, `"at_limit"` where
#'   the value sits at the limit, `"never"`.
#' @param zero `TRUE` where 0 is a value though changes are told in percent.
#' @return An object of class `honestmargin_metric`, a list of the arguments.
#' @section Errors: `honestmargin_error_input` when `compute` does not return
#'   one number (raised by [frame_summary()]).
#' @export
#' @examples
#' p90 <- new_metric("ms_p90", "90th percentile", "ms", "lower", "percent",
#'   "type 7 quantile of frame time",
#'   compute = function(x) stats::quantile(x, 0.9, names = FALSE)
#' )
#' frame_summary(c(8, 8.2, 7.9, 16), metrics = list(p90))
new_metric <- function(id, label = id, unit = "", better = "higher", scale = "percent",
                       definition = "", ..., compute = NULL, tail = NA_real_, hidden = "never", zero = FALSE,
                       step_s = 0, counts = "no") {
  assert_no_dots(...)
  checkmate::assert_string(id, min.chars = 1)
  checkmate::assert_string(label)
  checkmate::assert_string(unit)
  checkmate::assert_choice(better, c("higher", "lower", "none"))
  checkmate::assert_choice(scale, c("percent", "absolute"))
  checkmate::assert_function(compute, null.ok = TRUE)
  checkmate::assert_number(tail, lower = 0, upper = 1, na.ok = TRUE)
  checkmate::assert_choice(hidden, c("always", "at_limit", "never"))
  checkmate::assert_flag(zero)
  checkmate::assert_number(step_s, lower = 0, finite = TRUE)
  checkmate::assert_choice(counts, c("no", "pass", "minute"))
  structure(
    list(
      id = id, label = label, unit = unit, better = better, scale = scale, definition = definition,
      compute = compute, tail = as.numeric(tail), hidden = hidden, zero = zero, step_s = step_s,
      counts = counts
    ),
    class = "honestmargin_metric"
  )
}

by_id <- function(metrics) stats::setNames(metrics, vapply(metrics, `[[`, "", "id"))
