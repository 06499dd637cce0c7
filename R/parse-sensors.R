# Sensor logs that other programs wrote: delimited text with a time column.

sensor_layout_keys <- c("time", "form", "zone", "date", "start", "offset", "sensors")

#' Read a sensor log
#'
#' Any delimited text with a heading and a time column: many forms of date and
#' time, seconds since a start, sub-seconds; units in the headings or behind the
#' numbers. Each column becomes a sensor of a quantity (`clock`, `temperature`,
#' `load`, `power`, `memory`, `fan`, `energy`, `battery`, `rate` of frames) by its unit and name, or as
#' a layout says.
#'
#' @param path Path of the log.
#' @param layout `NULL`, a list, or the path of a YAML file with: `time` (heading
#'   or number of the time column; two for date and time apart), `form` (as in
#'   [strptime()]), `zone` (of the log's clock, default this machine's), `date` (day of a log that
#'   writes only the time of day), `start` (when its second 0 was, `YYYY-MM-DD HH:MM:SS`), `offset`
#'   (seconds to add to the log's clock), `sensors` (by heading: `quantity`, `part`,
#'   `unit`, `factor` for values shown at half or twice what they are, or `false` to leave it out).
#' @param ... Not used.
#' @param offset Seconds to add to the log's clock; `NULL`: the layout's, or 0.
#' @return A data frame: `time_s` (since 1970 where the attribute `absolute` is `TRUE`, else since the log's own zero;
#'   samples of one second, whose times are written to the second, lie evenly in it) and one column per sensor, called
#'   `quantity part [unit]` in MHz, C, %, W, MB, rpm, J, fps. The attribute `layout` says what was decided, `findings`
#'   what was left out.
#' @section Errors: `honestmargin_error_input` for no time column, times that
#'   cannot be read or can be read in two ways, and no sensor.
#' @export
#' @examples
#' log <- tempfile(fileext = ".csv")
#' writeLines(c(
#'   "Time,CPU clock [GHz],CPU (C)", "2026-03-14 18:00:00.2,4.2,61", "2026-03-14 18:00:01.2,4.1,63"
#' ), log)
#' read_sensors(log)
read_sensors <- function(path, layout = NULL, ..., offset = NULL) {
  assert_no_dots(...)
  layout <- read_sensor_layout(layout)
  table <- read_text_table(path, "sensor log")
  cells <- table$cells
  # a log that was begun anew in the middle repeats its heading
  headings <- setdiff(names(cells), ".line")
  cells <- rows_where(cells, !(cells[[1]] %in% headings[1]))
  at <- time_columns(layout, headings, cells, path)
  times <- log_times(cells, at, layout, path)
  sensors <- sensor_columns(cells, setdiff(headings, headings[at]), layout, decimal_of(cells, table$decimal), path)
  time_s <- apart_in_time(times$seconds) + as.numeric(empty_to(offset, empty_to(layout$offset, 0)))
  out <- list2DF(c(list(time_s = time_s), sensors$values))
  structure(rows_where(out, is.finite(time_s) & !duplicated(time_s)),
    absolute = times$absolute, layout = c(list(time = headings[at], form = times$form), sensors$mapped),
    findings = bind_findings(sensors$findings, times_back(times$seconds, cells$.line, path))
  )
}

# samples of one second, whose times are written to the second, lie evenly in it
apart_in_time <- function(seconds) {
  runs <- rle(seconds)
  n <- runs$lengths
  following <- c(runs$values[-1], NA) - runs$values
  usual <- suppressWarnings(min(following[n > 1 & following > 0], na.rm = TRUE))
  room <- ifelse(is.na(following) | following <= 0 | following > usual, usual, following)
  together <- n > 1 & is.finite(room)
  seconds + rep(ifelse(together, room / n, 0), n) * (sequence(n) - 1)
}

times_back <- function(seconds, line, path) {
  known <- which(is.finite(seconds))
  back <- known[-1][diff(seconds[known]) < 0]
  if (length(back)) {
    new_finding("warning", "times_back", file = basename(path), lines = as.integer(line[back]))
  }
}

read_sensor_layout <- function(layout) {
  if (is.null(layout)) {
    return(list())
  }
  given <- layout_given(layout, sensor_layout_keys)
  layout <- given$layout
  for (name in names(layout$sensors)) {
    quantity <- if (is.list(layout$sensors[[name]])) layout$sensors[[name]]$quantity
    if (!is.null(quantity) && !quantity %in% sensor_quantities) {
      abort_input(
        paste0("'", quantity, "' is no quantity"), c(given$source, name), did_you_mean(quantity, sensor_quantities)
      )
    }
  }
  layout
}

time_columns <- function(layout, headings, cells, path) {
  if (!is.null(layout$time)) {
    wanted <- unlist(layout$time)
    at <- if (is.numeric(wanted)) as.integer(wanted) else match(wanted, headings)
    if (anyNA(at) || any(at > length(headings))) {
      abort_input(paste0("no column '", wanted[is.na(at)][1], "'"), path, did_you_mean(wanted[1], headings))
    }
    return(at)
  }
  # date and time in one column settles it, and mostly stands first
  kind <- rep("", length(headings))
  for (i in seq_along(headings)) {
    kind[i] <- time_kind(utils::head(cells[[headings[i]]], 50))
    if (kind[i] == "stamp") break
  }
  date <- which(kind == "date")
  clock <- which(kind == "clock")
  found <- if (any(kind == "stamp")) {
    which(kind == "stamp")[1]
  } else if (length(clock)) {
    c(date[seq_len(min(1, length(date)))], clock[1])
  } else {
    # plain seconds: what is called so, else a first column that only rises
    word <- which(grepl("time|elapsed|second", headings, ignore.case = TRUE))
    c(word[kind[word] == "rising"], if (kind[1] == "rising") 1L, word)[1]
  }
  if (!length(found) || anyNA(found)) {
    abort_input("no time column", path, "name it in a layout, time: HEADING")
  }
  unname(found)
}

log_times <- function(cells, at, layout, path) {
  text <- do.call(paste, unname(cells[stats::na.omit(at)]))
  times <- parse_times(text, layout$form, empty_to(layout$zone, ""), layout$date)
  if (length(times$bad)) {
    abort_input(
      paste0("'", plain_text(text[times$bad[1]]), "' is not a time that can be read"),
      c(path, paste("line", cells$.line[times$bad[1]])), "give its form in a layout, form: \"%d.%m.%Y %H:%M:%S\""
    )
  }
  if (length(times$forms) > 1 && !same_times(text, times$forms)) {
    abort_input(
      paste0("the times can be read in two ways: ", paste(times$forms, collapse = " or ")), path,
      "say which in a layout, form: ..."
    )
  }
  if (!times$absolute && !is.null(layout$start)) {
    zero <- tryCatch(as.numeric(as.POSIXct(layout$start, tz = empty_to(layout$zone, ""))), error = function(e) NA)
    if (!isTRUE(is.finite(zero))) abort_input("start in the layout is no time", path, "write 2026-03-14 18:00:00")
    times <- list(seconds = zero + times$seconds, absolute = TRUE, form = times$form)
  }
  times
}

same_times <- function(text, forms) {
  read <- lapply(forms, time_by_form, text = substr(text, 1, 200))
  all(vapply(read[-1], function(r) isTRUE(all.equal(r, read[[1]])), NA))
}

sensor_columns <- function(cells, headings, layout, decimal, path) {
  values <- list()
  left_out <- character()
  mapped <- list()
  own <- is_our_heading(headings)
  for (i in seq_along(headings)) {
    heading <- headings[i]
    told <- layout$sensors[[heading]]
    placed <- if (is.null(told) && own[i]) {
      list(column = heading, convert = identity)
    } else if (!isFALSE(told)) {
      place_sensor(heading, utils::head(cells[[heading]], 200), told)
    }
    number <- if (!is.null(placed)) sensor_numbers(cells[[heading]], decimal)
    if (is.null(number) || !any(is.finite(number))) {
      if (!isFALSE(told)) left_out <- c(left_out, heading)
      next
    }
    column <- placed$column
    while (column %in% names(values)) column <- sub(" \\[", " again [", column)
    values[[column]] <- placed$convert(number)
    mapped[[heading]] <- column
  }
  if (!length(values)) {
    abort_input("no sensor: no column has a unit that is known", path, "map the columns in a layout, sensors: ...")
  }
  list(
    values = values, mapped = mapped,
    findings = if (length(left_out)) {
      new_finding("note", "columns_left_out", file = basename(path), columns = left_out)
    } else {
      no_findings()
    }
  )
}

# Columns parted by semicolons may hold either mark; one "60,5" settles it for all,
# so that "4.200" beside it is four thousand.
decimal_of <- function(cells, possible) {
  some <- unlist(utils::head(cells, 200), use.names = FALSE)
  if (possible == "comma" && any(grepl("^[-+]?[0-9.]*[0-9],[0-9]+( ?[^0-9,.]+)?$", some))) "comma" else "point"
}

# the unit may stand behind each number; what is no number is a gap
sensor_numbers <- function(text, decimal) {
  if (decimal == "point") {
    plain <- suppressWarnings(as.numeric(text))
    if (!anyNA(plain[!is.na(text)])) {
      return(plain)
    }
  }
  bare <- trimws(sub("[^0-9]*$", "", text))
  parsed <- parse_typed_numbers(bare, decimal)
  parsed$value
}
