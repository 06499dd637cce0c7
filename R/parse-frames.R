# Frame logs of any program: one number per frame in delimited text.

#' Read a frame log
#'
#' Reads durations or timestamps from comma, semicolon, tab or space delimited
#' text, plain or gz, with or without comment and heading lines, decimal point
#' or comma. With no `layout` the layout is worked out from the values alone:
#' rising numbers are timestamps (so are times of day with their fractions), magnitudes give the unit. Where two
#' readings of the file are plausible it stops and asks for a layout.
#'
#' @param path Path of the log.
#' @param layout `NULL`, or a layout: the path of a YAML file, or a list, with
#'   `column` (number or name), `holds` (`"durations"`, `"timestamps"` or `"rates"`, frames per second), `unit`
#'   (`"ms"`, `"us"`, `"ns"`, `"s"`) and, if needed, `delimiter` (`"comma"`,
#'   `"semicolon"`, `"tab"`, `"space"`), `decimal` (`"point"`, `"comma"`),
#'   `header_lines`, and `starts` (number or name of a column that says when each frame
#'   began, in seconds); and `program`, by itself or beside them: whose frames are meant, where a log names several.
#' @return A data frame, one row per frame: `frame_time_ms`, and `time_s`, the
#'   start of the frame in seconds from the first frame (or as the column `starts` says). The attribute `layout`
#'   says what was decided, `findings` what was noticed (a file cut short).
#' @section Errors: `honestmargin_error_input` for a missing, empty or binary
#'   file, no numeric column, an unclear layout, rows that are further apart than frames (one number a second), text or
#'   gaps among the numbers,
#'   frame times that are not positive, timestamps that run backwards; with file
#'   and line.
#' @export
#' @examples
#' log <- tempfile(fileext = ".csv")
#' writeLines(c("frame;ms", "1;8,31", "2;8,29", "3;8,40"), log)
#' read_frames(log)
#' attr(read_frames(log), "layout")[c("holds", "unit", "decimal")]
read_frames <- function(path, layout = NULL) {
  if (!is.null(layout)) layout <- read_layout(layout)
  opened <- open_text(path, "frame log")
  if (opened$temporary) on.exit(unlink(opened$file))
  lines <- first_lines(opened$file, 500)
  one <- frames_of_program(opened$file, lines, path, layout$program)
  if (!is.null(one)) {
    on.exit(unlink(one$file), add = TRUE)
    opened$file <- one$file
    lines <- first_lines(opened$file, 500)
  }
  clocked <- frames_by_clock(opened$file, lines, path, layout_of_frames(layout))
  if (!is.null(clocked)) {
    on.exit(unlink(clocked), add = TRUE)
    opened$file <- clocked
    lines <- first_lines(opened$file, 500)
  }
  settled <- settle_layout(path, lines, layout_of_frames(layout))
  parsed <- parse_column(opened$file, path, settled)
  frames <- to_frame_times(parsed$value, settled, path, opened$file)
  if (settled$holds == "rates" && !settled$given) assert_rates_of_frames(frames, path)
  if (!is.null(settled$starts)) {
    settled$column <- settled$starts
    frames$time_s <- parse_column(opened$file, path, settled)$value
  }
  attr(frames, "layout") <- settled
  attr(frames, "findings") <- bind_findings(
    opened$findings, one$findings, parsed$findings,
    if (settled$holds == "rates" && !settled$given) {
      new_finding("warning", "rates_converted", file = basename(path), heading = settled$name)
    }
  )
  frames
}

# a pass that is over in no time was no pass: one number a second is as likely
assert_rates_of_frames <- function(frames, path) {
  seconds <- sum(frames$frame_time_ms) / 1000
  if (seconds < 3) {
    abort_input(
      paste0(
        nrow(frames), " rates without times: as one a frame they last ", round(seconds, 1), " s, as one a second ",
        nrow(frames), " s"
      ), path,
      paste(
        "put a column of times beside them (Time (s): 0, 1, 2, ...),",
        "or say in a layout that each is a frame (holds: rates)"
      )
    )
  }
}

parse_column <- function(file, path, layout) {
  parsed <- if (!layout$gaps) parse_whole(file, path, layout)
  if (is.null(parsed)) {
    # a comment or an empty line among the numbers is all that is wrong with most
    bare <- numbers_alone(file, layout$header_lines)
    if (!is.null(bare)) {
      on.exit(unlink(bare))
      parsed <- parse_whole(bare, path, layout)
    }
  }
  if (is.null(parsed)) parse_slowly(file, path, layout) else parsed
}

# `fread()` begins where rows look alike, so that what stands above an odd line is lost
parse_whole <- function(file, path, layout) {
  parsed <- parse_quickly(file, path, layout)
  if (!layout$ragged || length(parsed$value) == length(rows_below(first_lines(file, -1), layout$header_lines))) parsed
}

rows_below <- function(lines, header_lines) {
  below <- lines_below(lines, header_lines)
  below[!is_gap(lines[below])]
}

# comments among them
lines_below <- function(lines, header_lines) which(has_text(lines) & seq_along(lines) > header_lines)

#' `fread()` is not asked to skip empty lines: with text among the numbers it then writes beyond its own columns, and
#' its error leaves its threads waiting for each other at the next call, for ever.
#' @return `NULL` where something odd stands among the numbers.
#' @noRd
parse_quickly <- function(file, path, layout) {
  cut <- NULL
  separator <- if (layout$delimiter == "none") "\n" else delimiters[[layout$delimiter]]
  value <- withCallingHandlers(
    tryCatch(
      data.table::fread(
        file = file, sep = separator, dec = if (layout$decimal == "comma") "," else ".",
        skip = layout$header_lines, header = FALSE, select = layout$column, fill = FALSE,
        showProgress = FALSE, data.table = FALSE, integer64 = "double",
        nThread = if (file.size(file) > 1e6) count_threads() else 1
      )[[1]],
      error = function(e) NULL
    ),
    warning = function(w) {
      cut <<- c(cut, conditionMessage(w))
      invokeRestart("muffleWarning")
    }
  )
  if (is.numeric(value) && !anyNA(value) && !any(grepl("Stopped early", cut))) {
    return(list(value = as.numeric(value), findings = line_cut(cut, path)))
  }
}

#' The file without empty lines and those that begin with a comment mark, below its heading
#' @return Path of a temporary file, `NULL` where there are none.
#' @noRd
numbers_alone <- function(file, header_lines) {
  bare <- bytes_of_numbers(readBin(file, "raw", file.size(file)), header_lines)
  if (!length(bare)) {
    return(NULL)
  }
  out <- tempfile(fileext = ".csv")
  writeBin(bare, out)
  out
}

line_cut <- function(warned, path) {
  if (any(grepl("footer", warned))) new_finding("warning", "line_cut", file = basename(path))
}

# Only for logs with something odd among the numbers: comment lines are taken
# out, anything else is named with its line.
parse_slowly <- function(file, path, layout) {
  lines <- first_lines(file, -1)
  number <- rows_below(lines, layout$header_lines)
  heading <- if (layout$header_lines > 0) lines[layout$header_lines] else ""
  again <- has_text(heading) & lines[number] == heading
  repeated <- number[again]
  number <- number[!again]
  fields <- split_fields(lines[number], layout$delimiter)
  assert_no_torn_numbers(fields, number, path)
  cell <- vapply(fields, function(f) f[layout$column], "")
  other <- if (layout$decimal == "comma") "." else ","
  mixed <- layout$delimiter != "comma" & grepl(other, cell, fixed = TRUE)
  if (layout$delimiter != "comma") cell <- sub(",", ".", cell, fixed = TRUE)
  value <- suppressWarnings(as.numeric(cell))
  value[grepl("x", cell, ignore.case = TRUE)] <- NA # R reads 0x10
  bad <- which(is.na(value))
  last_is_cut <- length(bad) == 1 && bad == length(value) && length(value) > 1
  if (length(bad) && !last_is_cut) {
    shown <- if (is.na(cell[bad[1]])) {
      "nothing in the column of frames"
    } else {
      paste0(
        "'", substr(plain_text(cell[bad[1]]), 1, 40), "' is not a number"
      )
    }
    abort_input(shown, c(path, paste("line", number[bad[1]])), "fix or remove that line, or give a layout")
  }
  list(value = value[!is.na(value)], findings = bind_findings(
    if (last_is_cut) line_cut("footer", path),
    if (any(mixed)) new_finding("warning", "mixed_marks", file = basename(path), lines = number[mixed]),
    if (length(repeated)) new_finding("warning", "heading_again", file = basename(path), lines = repeated)
  ))
}

# a number that is written with the mark that parts the columns shifts all behind it
assert_no_torn_numbers <- function(fields, number, path) {
  cells <- lengths(fields)
  usual <- as.integer(stats::median(cells))
  torn <- which(cells > usual & vapply(fields, function(f) all(grepl(number_point, f[-seq_len(usual)])), NA))
  if (length(torn)) {
    abort_input(
      paste0(count_of(cells[torn[1]], "number"), " where other lines have ", usual),
      c(path, paste("line", number[torn[1]])), "does the decimal mark also separate columns? fix or remove that line"
    )
  }
}

to_frame_times <- function(value, layout, path, file) {
  line_of <- function(i) paste("line", line_of_row(file, layout, i))
  factor <- layout_units[[layout$unit]]
  if (layout$holds == "timestamps") {
    if (length(value) < 2) abort_input("one timestamp only", path, "a frame lies between two timestamps")
    start <- value[1]
    frame <- diff(value)
    bad <- first_bad_frame(frame)
    if (bad > 0) {
      word <- if (!is.finite(frame[bad])) {
        "a timestamp is not a finite number"
      } else if (frame[bad] < 0) {
        "timestamps run backwards"
      } else {
        "the same timestamp twice"
      }
      abort_input(
        word, c(path, line_of(bad + 1)), "two runs in one file, or a clock that was set? split or fix the file"
      )
    }
    time <- (value[-length(value)] - start) * (factor / 1000)
    return(list2DF(list(frame_time_ms = frame * factor, time_s = time)))
  }
  bad <- first_bad_frame(value)
  if (layout$holds == "rates" && bad == 0) {
    frame <- 1000 / value
    return(list2DF(list(frame_time_ms = frame, time_s = frame_starts(frame))))
  }
  if (bad > 0) {
    abort_input(
      paste0("frame time ", show_exact(value[bad]), " is not a positive, finite number"), c(path, line_of(bad)),
      "a frame takes a positive time; fix or remove that line"
    )
  }
  if (factor != 1) value <- value * factor
  list2DF(list(frame_time_ms = value, time_s = frame_starts(value)))
}

line_of_row <- function(file, layout, i) {
  rows_below(first_lines(file, -1), layout$header_lines)[i]
}
