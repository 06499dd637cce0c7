# The traces of a pass, as they were captured.

#' A trace of one pass
#'
#' @param x A study from [read_study()].
#' @param pass Pass id.
#' @param of `"frames"`, `"sensors"` or `"marks"`.
#' @param ... Not used.
#' @param part Which flip of a toggled pass; `NULL` for all of it.
#' @return A data frame, times in seconds on the clock of the pass: `frame_time_ms` and `start_s`;
#'   or `time_s` and one column per sensor; or `time_s`, `word` and `value`. `NULL` where the
#'   pass has no such trace.
#' @section Errors: `honestmargin_error_input` for an unknown pass.
#' @export
#' @examples
#' head(pass_trace(read_study(demo_study()), "p007"), 3)
pass_trace <- function(x, pass, of = "frames", ..., part = NULL) {
  assert_no_dots(...)
  checkmate::assert_class(x, "honestmargin_study")
  checkmate::assert_choice(of, c("frames", "sensors", "marks"))
  at <- match(pass, x$passes$pass)
  if (is.na(at)) abort_input(paste0("no pass '", pass, "'"), x$folder, did_you_mean(pass, unique(x$passes$pass)))
  row <- x$passes[at, ]
  row$part <- empty_to(as.integer(part), NA_integer_)
  trace <- study_capture(x, row, of)[[of]]
  if (NROW(trace)) trace
}
