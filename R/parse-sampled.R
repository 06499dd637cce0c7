# Logs that hold one number every so often, not one a frame: an average over time, in which no single frame is left.

#' How far apart the rows of a log are that cannot be its frames
#'
#' Told by a column that is headed as frame times or rates beside one of times: a frame does not last as long as lies
#' between two rows.
#' @param lines First lines of the log. @param sample From `split_sample()`.
#' @return A list: `every` (seconds between rows), `frame_ms` (what a row says), `rate` (`TRUE` where that is a rate);
#'   `NULL` where each row may be a frame.
#' @noRd
sampled_rows <- function(lines, sample) {
  told <- which(names_a_rate(sample$names) | names_frame_times(sample$names))
  if (!length(told) || length(told) == sample$width) {
    return(NULL)
  }
  body <- lines[lines_below(lines, sample$header_lines)]
  # some rows tell it
  rows <- split_fields(utils::head(body, 60), sample$delimiter)
  rows <- rows[lengths(rows) == sample$width]
  if (length(rows) < 5) {
    return(NULL)
  }
  cells <- matrix(unlist(rows), ncol = sample$width, byrow = TRUE)
  if (sample$decimal == "comma") cells[] <- sub(",", ".", cells, fixed = TRUE)
  frame_ms <- vapply(told, function(j) shown_frame_ms(cells[, j], sample$names[j]), 1)
  at <- which(is.finite(frame_ms))[1]
  if (is.na(at)) {
    return(NULL)
  }
  every <- unlist(lapply(setdiff(seq_len(sample$width), told), function(j) {
    row_step(cells[, j], sample$names[j], frame_ms[at] / 1000)
  }))
  if (length(every)) list(every = every[1], frame_ms = frame_ms[at], rate = any(names_a_rate(sample$names[told])))
}

names_frame_times <- function(heading) {
  grepl("frame[ _]?(time|duration)|frame-to-frame|(per|/) ?frame|bildzeit", tolower(heading))
}

shown_frame_ms <- function(cells, heading) {
  value <- stats::median(suppressWarnings(as.numeric(cells)), na.rm = TRUE)
  if (names_a_rate(heading)) 1000 / value else value * layout_units[[empty_to(heading_unit(heading), "ms")]]
}

# Seconds from row to row by one column of times, where a frame is much shorter.
row_step <- function(cells, heading, frame_s) {
  kind <- time_kind(utils::head(cells, 50))
  steps <- if (kind %in% c("stamp", "clock")) {
    times <- tryCatch(parse_times(cells), honestmargin_error = function(e) NULL)
    usual_step(times$seconds)
  } else if (kind == "rising") {
    possible_steps(usual_step(suppressWarnings(as.numeric(cells))), heading, frame_s)
  }
  steps <- steps[is.finite(steps) & steps > 3 * frame_s]
  if (length(steps)) unname(steps[1])
}

usual_step <- function(x) if (length(x)) stats::median(diff(x), na.rm = TRUE)

# a step of plain numbers in seconds, in each unit that it may have
possible_steps <- function(step, heading, frame_s) {
  unit <- heading_unit(heading)
  if (!is.null(unit)) {
    return(step * layout_units[[unit]] / 1000)
  }
  # ticks of 100 ns are common too
  seconds <- step * c(layout_units / 1000, 1e-7)
  per_frame <- any(seconds > frame_s / 3 & seconds < 3 * frame_s)
  if (!per_frame && grepl("time|elapsed|zeit|second|sekunde", tolower(heading))) {
    # nobody looks more often, or more seldom
    seconds[seconds >= 0.05 & seconds <= 60]
  }
}

#' The rows of a log that are apart, where nobody has said how it is to be read
#' @return As `sampled_rows()`.
#' @noRd
sampled_log <- function(path) {
  tryCatch(
    {
      opened <- open_text(path, "frame log")
      if (opened$temporary) on.exit(unlink(opened$file))
      lines <- first_lines(opened$file, 500)
      sampled_rows(lines, split_sample(lines))
    },
    honestmargin_error = function(e) NULL
  )
}

abort_sampled <- function(path, found) {
  shown <- function(x) show_exact(signif(x, 3))
  abort_input(
    paste0(
      "its rows are ", shown(found$every), " s apart, but a frame takes ", shown(found$frame_ms),
      " ms: one number every so often, not one a frame"
    ), path, if (found$rate) {
      paste(
        "a folder of such logs is weighed by its mean rates (honestmargin weigh FOLDER), and beside a pass it is a",
        "sensor log (add --sensors); lows and stutters need a log of every frame"
      )
    } else {
      "log every frame, or its rate (frames per second), or say in a layout that each row is a frame"
    }
  )
}
