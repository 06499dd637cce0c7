# The door to the frame-time kernel.

#' Summarise frame times
#'
#' Works out every frame-time metric of a pass; [metric_table()] lists them with
#' their definitions. The pass is the unit for weighing, so this is where frames
#' end and readings begin.
#'
#' @param frame_time_ms Numeric vector of frame times in ms, in the order in
#'   which they were shown; or a list of such vectors, one per pass.
#' @param ... Not used.
#' @param stutter_ratio,stutter_excess_ms,stutter_window A frame is a stutter
#'   when it is at least `stutter_ratio` times the running median of the
#'   `stutter_window` frames around it (fewer at the ends) and at least
#'   `stutter_excess_ms` longer than it.
#' @param drop_depth,drop_seconds A deep drop is a stretch of frames that all take more than `drop_depth` times the
#'   pass's median frame time, together at least `drop_seconds`.
#' @param floors Whole frame rates for the share of time below them
#'   (`below_30`, ...).
#' @param metrics List of further metrics made with [new_metric()] that carry
#'   `compute`.
#' @return A named numeric vector. For a list a data frame, one row per pass,
#'   with the list's names (or positions) in `pass`. `fps_min` and `fps_max` are
#'   `NA` for passes under 3 s, `pacing_ms` for a single frame.
#' @section Errors: `honestmargin_error_input` for an empty vector, and for zero,
#'   negative, missing or infinite frame times, with the position of the first.
#' @references Hyndman and Fan (1996), Sample quantiles in statistical packages,
#'   The American Statistician 50, 361-365 (type 7).
#' @export
#' @examples
#' frame_summary(rep(c(8, 8.4, 8.2), 400))
frame_summary <- function(frame_time_ms, ..., stutter_ratio = 2, stutter_excess_ms = 8,
                          stutter_window = 61, floors = c(30, 60), drop_depth = 3, drop_seconds = 0.1,
                          metrics = list()) {
  assert_no_dots(...)
  checkmate::assert_number(stutter_ratio, lower = 1)
  checkmate::assert_number(stutter_excess_ms, lower = 0)
  checkmate::assert_int(stutter_window, lower = 3)
  checkmate::assert_number(drop_depth, lower = 1)
  checkmate::assert_number(drop_seconds, lower = 0)
  checkmate::assert_integerish(floors, lower = 1, any.missing = FALSE)
  # those that the kernel does not work out
  metrics <- c(made_once("computed", function() Filter(function(m) is.function(m$compute), frame_metrics())), metrics)
  summarise <- function(x, name) {
    x <- assert_frames(x, name)
    out <- summarise_frames(
      x, stutter_ratio, stutter_excess_ms, stutter_window, as.numeric(floors), drop_depth, 1000 * drop_seconds
    )
    c(out, vapply(by_id(metrics), compute_metric, numeric(1), x = x))
  }
  if (!is.list(frame_time_ms)) {
    return(summarise(frame_time_ms, NULL))
  }
  names <- empty_to(names(frame_time_ms), as.character(seq_along(frame_time_ms)))
  rows <- mapply(summarise, frame_time_ms, names, SIMPLIFY = FALSE)
  data.frame(pass = names, do.call(rbind, rows), row.names = NULL)
}

#' Deep drops of a pass
#'
#' @inheritParams frame_summary
#' @param frame_time_ms Numeric vector of frame times in ms.
#' @return A data frame, one row per drop: `start_s` (from the first frame), `seconds` (how long), `frames`,
#'   `slowest_ms` (its slowest frame), `depth` (the pass's median rate over the rate in the drop).
#' @section Errors: As [frame_summary()].
#' @export
#' @examples
#' deep_drops(c(rep(8, 500), rep(50, 4), rep(8, 500)))
deep_drops <- function(frame_time_ms, ..., drop_depth = 3, drop_seconds = 0.1) {
  assert_no_dots(...)
  checkmate::assert_number(drop_depth, lower = 1)
  checkmate::assert_number(drop_seconds, lower = 0)
  x <- assert_frames(frame_time_ms)
  usual <- stats::median(x)
  found <- as.data.frame(frame_drops(x, drop_depth * usual, 1000 * drop_seconds))
  found$depth <- 1000 * found$seconds / found$frames / usual
  found
}

assert_frames <- function(x, pass = NULL) {
  where <- if (length(pass)) paste("pass", pass)
  if (!is.numeric(x) || !length(x)) {
    abort_input(
      "frame times must be a numeric vector with at least one value", where,
      "give the frame times in ms, one per frame"
    )
  }
  bad <- first_bad_frame(as.numeric(x))
  if (bad > 0) {
    abort_input(
      paste0("frame time ", show_exact(x[bad]), " is not a positive, finite number"),
      c(where, paste("frame", bad)),
      "a frame takes a positive time in ms; take the frame out only if you know why it is wrong"
    )
  }
  as.numeric(x)
}

compute_metric <- function(metric, x) {
  value <- if (is.function(metric$compute)) metric$compute(x)
  if (!is.numeric(value) || length(value) != 1) {
    abort_input(paste0("metric '", metric$id, "' did not give one number for a pass"),
      todo = "its `compute` takes frame times (ms) and returns one number"
    )
  }
  as.numeric(value)
}
