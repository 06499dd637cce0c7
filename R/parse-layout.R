# A layout the tester wrote: a small YAML file per source of logs.

layout_keys <- c("column", "holds", "unit", "delimiter", "decimal", "header_lines", "starts", "program")
# of tables, results and the names of files
table_keys <- c("columns", "baseline", "better", "primary", "answer", "names", "sheet", "arm")

#' Read a layout
#'
#' @param layout A path to a YAML file, or a list with the same keys: `column`
#'   (number or name), `holds` (`durations` or `timestamps`), `unit` (`ms`, `us`,
#'   `ns`, `s`), and if needed `delimiter` (`comma`, `semicolon`, `tab`, `space`),
#'   `decimal` (`point`, `comma`), `header_lines` (lines before the first frame), `starts`
#'   (column of when each frame began, in s); `program` (whose frames are meant), which may stand alone.
#' @return The list, checked.
#' @noRd
read_layout <- function(layout) {
  given <- layout_given(layout, c(layout_keys, table_keys))
  layout <- given$layout[setdiff(names(given$layout), table_keys)]
  source <- given$source
  allowed <- list(
    holds = c("durations", "timestamps", "rates"), unit = names(layout_units),
    delimiter = c(names(delimiters), "none"), decimal = c("point", "comma")
  )
  for (key in if (!is.null(layout_of_frames(layout))) c("column", "holds", "unit")) {
    if (is.null(layout[[key]])) {
      abort_input(paste0("layout key '", key, "' is missing"), source, "a layout names column, holds and unit")
    }
  }
  for (key in intersect(names(layout), names(allowed))) {
    if (!isTRUE(layout[[key]] %in% allowed[[key]])) {
      abort_input(
        paste0("'", paste(unlist(layout[[key]]), collapse = ", "), "' is no ", key), source, paste("one of",
          paste(allowed[[key]], collapse = ", "))
      )
    }
  }
  for (key in intersect(names(layout), c("column", "starts", "program"))) {
    if (length(layout[[key]]) != 1 || is.list(layout[[key]]) || is.na(layout[[key]])) {
      abort_input(paste0("'", key, "' is not one name or number"), source, paste0("write ", key, ": NAME on one line"))
    }
  }
  lines <- layout$header_lines
  if (!is.null(lines) && !checkmate::test_count(lines)) {
    abort_input("header_lines is not a whole number", source, "give the number of lines before the first frame")
  }
  layout
}

#' What a layout says of columns; `NULL` where it only says whose frames are meant
#' @noRd
layout_of_frames <- function(layout) {
  layout$program <- NULL
  if (length(layout)) layout
}

#' A layout as a list, from a list or a YAML file, with no key that is not known
#' @return A list: `layout`, `source` (for messages).
#' @noRd
layout_given <- function(layout, keys) {
  source <- "layout"
  if (is.character(layout)) {
    source <- layout
    layout <- parse_yaml_file(layout, "layout file")$value
  }
  unknown <- setdiff(names(layout), keys)
  if (!is.list(layout) || is.null(names(layout)) || length(unknown)) {
    abort_input(
      paste0("unknown layout key '", empty_to(unknown, "")[1], "'"), source,
      did_you_mean(empty_to(unknown, "")[1], keys)
    )
  }
  list(layout = layout, source = source)
}

#' Complete a layout from the file: the tester's words first, the values for the rest
#' @noRd
settle_layout <- function(path, lines, layout) {
  sample <- if (is.null(layout$delimiter)) {
    split_sample(lines)
  } else {
    used <- which(has_text(lines))
    sample_table(lines, used, layout$delimiter, empty_to(layout$decimal, "point"))
  }
  apart <- if (is.null(layout)) sampled_rows(lines, sample)
  if (!is.null(apart)) abort_sampled(path, apart)
  if (!is.null(sample$ambiguous)) ambiguous_layout(path, sample$ambiguous)
  if (is.null(sample)) {
    abort_input("no numeric column", path, "a frame log holds one number per frame; is this the right file?",
      no_table = TRUE
    )
  }
  if (!is.null(layout$decimal) && layout$decimal != sample$decimal) {
    sample <- sample_table(lines, which(has_text(lines)), sample$delimiter, layout$decimal)
  }
  chosen <- if (is.null(layout)) choose_column(sample) else layout[c("column", "holds", "unit")]
  if (!is.null(chosen$ambiguous)) ambiguous_layout(path, chosen$ambiguous)
  if (!is.null(chosen$nothing)) {
    abort_input(
      chosen$nothing, path, "write a layout that names the column, what it holds and its unit",
      no_table = TRUE
    )
  }
  chosen$column <- column_number(chosen$column, sample, path)
  header_lines <- as.integer(empty_to(layout$header_lines, sample$header_lines))
  list(
    starts = if (!is.null(layout$starts)) column_number(layout$starts, sample, path),
    column = chosen$column, name = sample$names[chosen$column], holds = chosen$holds, unit = chosen$unit,
    delimiter = sample$delimiter, decimal = sample$decimal,
    header_lines = header_lines, gaps = any(which(is_gap(lines)) > header_lines),
    ragged = any(sample$uneven > header_lines),
    given = !is.null(layout)
  )
}

# an empty line, or a comment
is_gap <- function(lines) !has_text(lines) | grepl("^\\s*(#|//|%)", lines)

ambiguous_layout <- function(path, why) {
  abort_input(
    paste0("the layout can be read in two ways: ", why), path,
    "write a layout (YAML: column, holds, unit, delimiter, decimal) and give it with layout =, or --layout"
  )
}

column_number <- function(column, sample, path) {
  if (is.character(column)) {
    at <- match(column, sample$names)
    if (is.na(at)) abort_input(paste0("no column '", column, "'"), path, did_you_mean(column, sample$names))
    return(at)
  }
  if (column < 1 || column > sample$width) {
    abort_input(paste0("no column ", column), path, paste("the file has", count_of(sample$width, "column")))
  }
  as.integer(column)
}

# the layout that lies beside a table, or in a folder
layout_beside <- function(path) {
  if (length(path) == 1 && dir.exists(path)) {
    file.path(path, "layout.yml")
  } else {
    paste0(
      sub("([.](csv|tsv|txt|json|jsonl|ndjson|xlsx|xls|ods|log))?([.]gz)?$", "", path[1], ignore.case = TRUE),
      ".layout.yml"
    )
  }
}

# what a layout says of tables; of logs it says other things
kept_layout <- function(path, layout = NULL) {
  file <- empty_to(layout, layout_beside(path))
  if (is.null(layout) && (!length(file) || !file.exists(file))) {
    return(NULL)
  }
  given <- layout_given(file, c(layout_keys, table_keys))$layout
  # a role of several columns lists them
  lapply(given[intersect(names(given), table_keys)], function(v) {
    if (is.list(v)) stats::setNames(unlist(v, use.names = FALSE), rep(names(v), lengths(v))) else v
  })
}

#' What was said of how a table is read, as a layout holds it
#' @param said A list with the names of `table_keys`.
#' @noRd
layout_of_said <- function(said) {
  lapply(Filter(length, said[intersect(table_keys, names(said))]), function(v) {
    if (is.null(names(v))) v else lapply(split(v, factor(names(v), unique(names(v)))), unname)
  })
}

#' What was said, with one choice of a question more
#' @param one From `offer()`.
#' @noRd
with_choice <- function(said, one) {
  several <- one$option %in% c("columns", "answer", "better")
  value <- if (several) {
    stats::setNames(sub("^[^=]*=", "", one$value), sub("=.*$", "", one$value))
  } else if (one$option %in% c("primary", "sheet")) {
    split_list(one$value)
  } else {
    one$value
  }
  # the last word on a code or a metric counts; a role may have several columns
  before <- if (several) said[[one$option]][!names(said[[one$option]]) %in% names(value) | one$option == "columns"]
  said[[one$option]] <- c(before, value)
  said
}
