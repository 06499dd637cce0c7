# Logs in which each frame is stamped with the time of day, "10:00:00.048", and nothing else says how long it took.

#' The log with seconds in place of such stamps
#'
#' @param file Path of the opened log. @param lines Its first lines. @param path What it is called in messages.
#' @param layout From `layout_of_frames()`: one that was given, or `NULL`.
#' @return `NULL` where it is no such log; else the path of a temporary file, whose lines keep their numbers.
#' @noRd
frames_by_clock <- function(file, lines, path, layout = NULL) {
  rows <- lines[has_text(lines)]
  rows <- rows[seq(length(rows) %/% 2 + 1, length(rows))]
  # most logs hold no colon between digits
  if (!any(grepl(":", rows, fixed = TRUE))) {
    return(NULL)
  }
  decimal <- if (mean(grepl("[;\t]", rows)) > 0.5) "[.,]" else "[.]"
  shape <- paste0("[^;\t,]*?(?<![0-9:])([0-9]{1,2}):([0-9]{2}):([0-9]{2}", decimal, "[0-9]{2,9})(?![0-9:])[^;\t,]*")
  if (mean(grepl(shape, rows, perl = TRUE)) < 0.9) {
    return(NULL)
  }
  # a number that says it is better than the difference of two stamps, but for a column of one number only
  settled <- if (is.null(layout)) tryCatch(settle_layout(path, lines, NULL), honestmargin_error = function(e) NULL)
  if (is.list(settled) && length(unique(split_sample(lines)$values[, settled$column])) > 1) {
    return(NULL)
  }
  all <- first_lines(file, -1)
  at <- regexpr(shape, all, perl = TRUE)
  stamped <- which(at > 0)
  parts <- regmatches(all[stamped], regexec(shape, all[stamped], perl = TRUE))
  number <- function(part) as.numeric(sub(",", ".", vapply(parts, `[`, "", part + 1), fixed = TRUE))
  seconds <- 3600 * number(1) + 60 * number(2) + number(3)
  step <- diff(seconds)
  # past midnight the day is the next one
  seconds <- seconds + 86400 * c(0, cumsum(step < -43200))
  mark <- if (decimal == "[.,]" && any(grepl("[0-9],[0-9]", rows))) "," else "."
  regmatches(all, at) <- sub(".", mark, sprintf("%.9f", seconds), fixed = TRUE)
  out <- tempfile(fileext = ".csv")
  writeLines(all, out, useBytes = TRUE)
  out
}
