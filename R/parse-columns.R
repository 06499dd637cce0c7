# How a delimited log is laid out, worked out from its values alone. No
# program's column names are known here: rising numbers are timestamps,
# magnitudes give the unit, and where two readings stay plausible nobody guesses.

layout_units <- c(s = 1000, ms = 1, us = 1e-3, ns = 1e-6)
delimiters <- c(tab = "\t", semicolon = ";", comma = ",", space = " ")
number_point <- "^[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][-+]?[0-9]+)?$"
number_comma <- "^[-+]?([0-9]+,?[0-9]*|,[0-9]+)([eE][-+]?[0-9]+)?$"

# frames between 0.25 ms (4 000 per second) and 500 ms (2 per second)
plausible_units <- function(value) {
  ms <- value * layout_units
  names(layout_units)[ms >= 0.25 & ms <= 500]
}

#' Split sample lines into fields and say which are data
#'
#' @param lines First lines of the log.
#' @return A list: `delimiter` (name), `decimal`, `comment_lines`, `header_lines`
#'   (lines to skip before the data, comments included), `names`, `values`
#'   (numeric matrix of the sample), `uneven` (lines with more or fewer cells than most); or a list `ambiguous` with
#'   the reason.
#' @noRd
split_sample <- function(lines) {
  used <- which(!is_gap(lines))
  body <- lines[used]
  if (!length(body)) {
    return(NULL)
  }
  half <- body[seq(length(body) %/% 2 + 1, length(body))]
  delimiter <- guess_delimiter(half)
  if (delimiter == "comma" && all(grepl("^\\s*[0-9]+,[0-9]+\\s*$", half))) {
    return(comma_alone(lines, used, half))
  }
  cells <- if (delimiter != "comma") unlist(split_fields(half, delimiter))
  # one odd row does not say how all others are written
  written <- function(mark) sum(grepl(paste0("^[-+]?[0-9]*[", mark, "][0-9]+$"), cells))
  decimal <- if (written(",") > written(".")) "comma" else "point"
  sample_table(lines, used, delimiter, decimal)
}

guess_delimiter <- function(lines) {
  # what stands in quotes parts nothing
  quoted <- grep("\"", lines, fixed = TRUE)
  lines[quoted] <- gsub("\"[^\"]*\"", "x", lines[quoted])
  lines <- trimws(lines)
  has <- vapply(delimiters, function(d) mean(grepl(d, lines, fixed = TRUE)), 1)
  hit <- names(delimiters)[has > 0.5]
  if (length(hit)) hit[1] else "none"
}

split_fields <- function(lines, delimiter) {
  if (delimiter == "none") {
    lines <- trimws(lines)
    # most logs have no quotes
    quoted <- grep("\"", lines, fixed = TRUE)
    lines[quoted] <- gsub("^\"|\"$", "", lines[quoted])
    return(as.list(lines))
  }
  if (delimiter == "space") {
    return(strsplit(trimws(lines), "[ ]+"))
  }
  fields <- split_unquoted(lines, delimiters[[delimiter]])
  # most logs have neither quotes nor blanks
  dressed <- grep("[\"[:space:]]", lines)
  fields[dressed] <- lapply(fields[dressed], function(f) gsub("^\\s*\"?|\"?\\s*$", "", f))
  fields
}

#' Split lines where a mark stands, but not inside cells in quotes (RFC 4180, a cell in one line)
#' @noRd
split_unquoted <- function(lines, mark) {
  held <- grep(paste0("\"[^\"]*", mark, "[^\"]*\""), lines)
  if (length(held)) {
    # a quote begins a cell only at its beginning: 5" is a length
    quoted <- paste0("(?<![^", mark, "]) *+\"(?:[^\"]++|\"\")*+\"(?= *(?:", mark, "|$))")
    inside <- gregexpr(quoted, lines[held], perl = TRUE)
    regmatches(lines[held], inside) <- lapply(regmatches(lines[held], inside), chartr, old = mark, new = "\001")
  }
  fields <- strsplit(lines, mark, fixed = TRUE)
  fields[held] <- lapply(fields[held], chartr, old = "\001", new = mark)
  fields
}

# "16,67" alone on each line is 16.67, or 16 and 67. A heading can tell; so can
# a column that counts up, as no fraction does.
comma_alone <- function(lines, used, half) {
  parts <- do.call(rbind, lapply(strsplit(half, ","), as.numeric))
  first <- lines[used[1]]
  heading <- grepl("[[:alpha:]]", first)
  if (heading) {
    return(sample_table(
      lines, used, if (grepl(",", first)) "comma" else "none", if (grepl(",", first)) "point" else "comma"
    ))
  }
  counts <- nrow(parts) > 2 && any(apply(parts, 2, function(v) all(diff(v) > 0)))
  if (counts) {
    return(sample_table(lines, used, "comma", "point"))
  }
  list(ambiguous = "a comma alone on each line may be a decimal mark or part two columns")
}

sample_table <- function(lines, used, delimiter, decimal) {
  fields <- split_fields(lines[used], delimiter)
  width <- as.integer(stats::median(lengths(fields[seq(length(fields) %/% 2 + 1, length(fields))])))
  pattern <- if (decimal == "comma") number_comma else number_point
  fits <- lengths(fields) == width
  # the middle of two lengths is none
  if (!any(fits)) {
    return(NULL)
  }
  grid <- matrix(unlist(fields[fits]), ncol = width, byrow = TRUE)
  is_number <- matrix(grepl(pattern, grid), ncol = width)
  late <- is_number[seq(nrow(grid) %/% 2 + 1, nrow(grid)), , drop = FALSE]
  numeric_columns <- which(colMeans(late) > 0.6)
  if (!length(numeric_columns)) {
    return(NULL)
  }
  start <- which(rowSums(!is_number[, numeric_columns, drop = FALSE]) == 0)[1]
  values <- grid[start:nrow(grid), , drop = FALSE]
  if (decimal == "comma") values[] <- sub(",", ".", values, fixed = TRUE)
  names <- if (start > 1) grid[start - 1, ] else rep("", width)
  # a first row with a cell too many is no heading
  first <- which(fits)[start]
  is_row <- function(f) length(f) > width && all(grepl(pattern, f[numeric_columns]))
  while (first > 1 && is_row(fields[[first - 1]])) first <- first - 1
  first_line <- used[first]
  list(
    delimiter = delimiter, decimal = decimal, header_lines = first_line - 1L, width = width,
    names = names, columns = numeric_columns, uneven = used[!fits],
    values = suppressWarnings(matrix(as.numeric(values), ncol = width))
  )
}

#' Which column holds the frames, as what and in which unit
#'
#' @param sample From `split_sample()`.
#' @return A list `column`, `holds`, `unit`; or a list `ambiguous` (the reason)
#'   or `nothing` (why no column can hold frames).
#' @noRd
choose_column <- function(sample) {
  kinds <- lapply(sample$columns, function(j) column_kind(sample$values[, j], sample$names[j]))
  kind <- vapply(kinds, `[[`, "", "holds")
  # a load or a temperature of the same size, or that rises, is no time
  headings <- sample$names[sample$columns]
  kind[vapply(headings, names_another_unit, NA) & !names_frame_times(headings)] <- "other"
  stamps <- which(kind == "timestamps")
  times <- which(kind == "durations")
  # frames locked to one length look constant; that counts where nothing else does
  if (!length(stamps) && !length(times)) times <- which(kind == "constant")
  kind[times] <- "durations"
  if (!length(stamps) && !length(times)) {
    return(list(nothing = "no column looks like frame times or timestamps"))
  }
  agree <- matching_pair(sample, kinds, stamps, times)
  only <- if (length(stamps)) stamps else times
  pick <- if (!is.null(agree)) agree else if (length(only) == 1) only
  if (is.null(pick)) {
    several <- sample$columns[if (length(stamps)) stamps else times]
    return(list(ambiguous = paste0("columns ", some_of(column_names(sample, several)), " may each hold the frames")))
  }
  heading <- sample$names[sample$columns[pick]]
  passed_over <- if (kind[pick] == "durations") frame_times_passed_over(sample, heading)
  if (!is.null(passed_over)) {
    return(list(nothing = paste0("column ", passed_over, " does not hold a number in most rows")))
  }
  if (kind[pick] == "durations" && names_a_rate(heading)) {
    return(list(column = sample$columns[[pick]], holds = "rates", unit = "ms"))
  }
  # ticks of a counter agree with durations in no unit of time
  unit <- empty_to(attr(agree, "unit"), empty_to(heading_unit(heading), kinds[[pick]]$units))
  if (length(unit) != 1) {
    return(list(ambiguous = paste0(
      "the unit of column ", column_names(sample, sample$columns[pick]), " may be ",
      if (length(unit)) paste(unit, collapse = " or ") else "none that gives 2 to 4000 frames per second"
    )))
  }
  rates <- kind[pick] == "durations" && unit == "ms" && may_be_rates(sample, sample$columns[pick], heading)
  if (rates) {
    return(list(ambiguous = paste0(
      nrow(sample$values), " numbers around ", signif(stats::median(sample$values[, sample$columns[pick]],
        na.rm = TRUE
      ), 3),
      " may be frames in ms (holds: durations) or a rate each second (holds: rates)"
    )))
  }
  list(column = sample$columns[[pick]], holds = kind[[pick]], unit = unit)
}

# few numbers that nobody headed, of a size that frames of a slow scene have in ms and rates of a fast one a second
may_be_rates <- function(sample, column, heading) {
  v <- sample$values[, column]
  v <- v[is.finite(v)]
  unsaid <- is.null(heading_unit(heading)) && !names_frame_times(heading)
  unsaid && length(v) >= 50 && length(v) < 400 && stats::median(v) > 25 && stats::median(v) < 500
}

# what is headed as frame times and is no column of numbers is not replaced by whatever else looks like it
frame_times_passed_over <- function(sample, heading) {
  named <- which(names_frame_times(sample$names))
  if (length(named) && !names_frame_times(heading) && !any(named %in% sample$columns)) {
    column_names(sample, named[1])
  }
}

# What a heading says in the general words of the trade: a unit of time, or that the
# numbers are rates.
heading_unit <- function(heading) {
  words <- strsplit(gsub("[^a-z]+", " ", gsub("[\u00b5\u03bc]", "u", tolower(heading))), " ")[[1]]
  units <- c(
    s = "s", sec = "s", seconds = "s", ms = "ms", msec = "ms", milliseconds = "ms", us = "us", usec = "us",
    microseconds = "us", ns = "ns", nanoseconds = "ns"
  )
  hit <- units[intersect(words, names(units))]
  if (length(hit) == 1) unname(hit)
}

names_a_rate <- function(heading) {
  grepl(
    "(^|[^a-z])fps($|[^a-z])|frames? ?per ?sec|frame ?rate|bildrate", tolower(heading)
  )
}

names_another_unit <- function(heading) {
  unit <- split_heading(heading, character())$unit
  unit %in% names(unit_quantity) && !unit %in% "fps"
}

column_names <- function(sample, j) ifelse(nzchar(sample$names[j]), paste0("'", sample$names[j], "'"), j)

# a count of rows, which begins anew where a second run was appended, and leaves out rows that are no data; times of a
# thousand frames a second look alike, and are headed as times
counts_rows <- function(step, heading) {
  mean(step == 1) > 0.9 &&
    (all(step == 1 | step < 0) || (all(step == round(step)) && is.null(heading_unit(heading))))
}

column_kind <- function(v, heading = "") {
  v <- v[is.finite(v)]
  if (length(v) < 3) {
    return(if (length(v) == 1) list(holds = "durations", units = plausible_units(v)) else list(holds = "unknown"))
  }
  step <- diff(v)
  if (counts_rows(step, heading) || all(step == 0)) {
    # a running number, or a constant such as a width
    return(if (all(step == 0) && v[1] > 0) {
      list(
        holds = "constant", units = plausible_units(v[1])
      )
    } else {
      list(holds = "count")
    })
  }
  # a few steps back are a fault of a clock, not a sign of durations
  if (mean(step >= 0) > 0.9 && mean(step > 0) > 0.5 && v[length(v)] > v[1]) {
    usual <- stats::median(step[step > 0])
    return(list(holds = "timestamps", units = plausible_units(usual)))
  }
  # a single impossible value is a fault to be named, not a sign of something else
  if (mean(v >= 0) > 0.7 && stats::median(v) > 0) {
    return(list(holds = "durations", units = plausible_units(stats::median(v))))
  }
  list(holds = "unknown")
}
