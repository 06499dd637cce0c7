# Results kept as JSON: the records in it, wherever they stand, as the rows of a table.

json_kinds <- "json|jsonl|ndjson"
json_ending <- paste0("[.](", json_kinds, ")([.]gz)?$")

is_json <- function(lines, path) {
  text <- trimws(lines[has_text(lines)])
  looks <- length(text) > 0 && grepl("^[[{]", text[1]) && grepl("[]}]$", text[length(text)])
  looks || grepl(json_ending, path, ignore.case = TRUE)
}

#' The records of a text of JSON, as a grid
#'
#' A record is an object: of an array, of a line, or the only one. What stands inside it in objects of its own has names
#' joined by dots. What it lists (records, or numbers of as many passes each) are rows of their own.
#' @param arms Whether the names of objects that are built alike may be arms.
#' @return A list: `grid`, `findings`.
#' @noRd
grid_of_json <- function(lines, path, arms = TRUE) {
  table <- cells_of_json(lines, path, arms)
  list(grid = grid_of_frame(table$cells, path, "record"), findings = table$findings)
}

cells_of_json <- function(lines, path, arms = TRUE) {
  value <- json_value(lines, path)
  if (!length(value)) abort_input("no record in it", path, "one record per pass is needed")
  if (!is_object(value)) value <- list_of_records(value, path)
  keyed <- if (is_object(value) && arms) keyed_records(value)
  records <- empty_to(keyed$records, if (is_object(value)) list(value) else value)
  rows <- if (is_object(value)) column_wise(value, path)
  if (is.null(rows)) rows <- unlist(lapply(records, record_rows, path), FALSE)
  cells <- stack_rows(lapply(rows, function(row) list2DF(lapply(row, json_text_of))))
  names(cells) <- without_common_path(names(cells), names(cells))
  list(cells = cells, findings = if (!is.null(keyed)) {
    new_finding("note", "names_taken", names = names(value), as = keyed$as)
  })
}

json_value <- function(lines, path) {
  read <- function(text) tryCatch(jsonlite::fromJSON(text, simplifyVector = FALSE), error = identity)
  value <- read(paste(lines, collapse = "\n"))
  if (!inherits(value, "error")) {
    return(value)
  }
  # a record on each line
  used <- which(has_text(lines))
  if (length(used) < 2 || !all(grepl("^\\s*\\{", lines[used]))) abort_no_json(value, path)
  lapply(used, function(i) {
    record <- read(lines[i])
    if (inherits(record, "error")) abort_no_json(record, c(path, paste("line", i)))
    record
  })
}

abort_no_json <- function(error, where) {
  said <- trimws(sub("\n.*", "", conditionMessage(error)))
  abort_input(
    paste0("cannot be read as JSON (", said, ")"), where, "fix it there; one that was cut short is to be written again"
  )
}

is_object <- function(x) is.list(x) && !is.null(names(x))

list_of_records <- function(value, path) {
  if (all(vapply(value, is_object, NA))) {
    return(value)
  }
  # numbers alone, of which nobody said what they are
  if (any(vapply(value, is.list, NA))) {
    abort_input(
      "a list of lists without names", path, "give each pass a record: {\"arm\": \"stock\", \"score\": 101.2}"
    )
  }
  list(metric = rep(list("value"), length(value)), value = as.list(value))
}

#' Objects that are all built alike: their names are what the records are of
#' @return A list: `records`, `as` (`arm`, or `pass` where each record says its arm); `NULL` where it is no such object.
#' @noRd
keyed_records <- function(value) {
  objects <- vapply(value, is_object, NA)
  parts <- lapply(value, function(x) sort(names(flat_record(x))))
  alike <- length(value) > 1 && all(objects) && length(unique(parts)) == 1 && length(parts[[1]])
  if (!alike || are_numbers_of_rows(parts[[1]])) {
    return(NULL)
  }
  as <- if (name_the_arm(parts[[1]])) "pass" else "arm"
  list(as = as, records = Map(function(x, name) c(stats::setNames(list(name), as), x), value, names(value)))
}

are_numbers_of_rows <- function(names) all(grepl("^[0-9]+$", names))

#' A table that was written column by column, as lists or as objects that count the rows
#' @return Its rows; `NULL` where it is none.
#' @noRd
column_wise <- function(value, path) {
  flat <- vapply(value, function(x) is.list(x) && length(x) > 0 && !any(vapply(x, is.list, NA)), NA)
  numbered <- flat & vapply(value, function(x) is_object(x) && are_numbers_of_rows(names(x)), NA)
  listed <- flat & !vapply(value, is_object, NA)
  if (!(all(numbered) || all(listed))) {
    return(NULL)
  }
  if (all(listed)) assert_no_frames(value, path)
  rows <- if (all(numbered)) unique(unlist(lapply(value, names))) else seq_len(max(lengths(value)))
  lapply(rows, function(row) {
    there <- if (all(numbered)) vapply(value, function(x) row %in% names(x), NA) else lengths(value) >= row
    lapply(value[there], `[[`, row)
  })
}

# objects inside it, with names joined by dots
flat_record <- function(record) {
  parts <- lapply(names(record), function(name) {
    x <- record[[name]]
    if (!is_object(x)) {
      return(stats::setNames(list(x), name))
    }
    inner <- flat_record(x)
    stats::setNames(inner, if (length(inner)) paste0(name, ".", names(inner)))
  })
  unlist(parts, recursive = FALSE)
}

#' The rows of one record: itself, or what it lists
#' @return List of named lists of single values; those of the whole list are named in the attribute `beside`.
#' @noRd
record_rows <- function(record, path) {
  flat <- flat_record(record)
  lists <- vapply(flat, is.list, NA)
  own <- flat[!lists]
  lists <- flat[lists & lengths(flat) > 0]
  if (!length(lists)) {
    return(list(own))
  }
  nested <- vapply(lists, function(x) any(vapply(x, is.list, NA)), NA)
  if (any(nested) && length(lists) > 1 || !any(nested) && length(unique(lengths(lists))) > 1) {
    abort_input(
      paste0("a record holds lists that do not go together: ", some_of(names(lists), 3)), path,
      "leave only those of its passes, one number each"
    )
  }
  assert_no_frames(lists, path)
  rows <- if (any(nested)) {
    unlist(lapply(list_of_records(lists[[1]], path), record_rows, path), FALSE)
  } else {
    lapply(seq_along(lists[[1]]), function(i) lapply(lists, `[[`, i))
  }
  lapply(rows, function(row) {
    structure(
      c(own[setdiff(names(own), names(row))], row),
      beside = union(setdiff(names(own), names(row)), attr(row, "beside"))
    )
  })
}

# a log has more numbers than anybody ran passes
assert_no_frames <- function(lists, path) {
  long <- lengths(lists) > 500 | (lengths(lists) >= 50 & grepl(framelike, names(lists), ignore.case = TRUE))
  if (any(long)) {
    abort_input(
      paste0("'", names(lists)[long][1], "' lists ", lengths(lists)[long][1], " numbers: these are no passes"), path,
      "the frames of a pass are a log of its own: a file of text with one frame a line"
    )
  }
}

# null is an empty cell
json_text_of <- function(x) if (is.null(x)) NA_character_ else unlist(text_cells(list(x)), use.names = FALSE)

# {"result": {...}} around everything says nothing
without_common_path <- function(names, of) {
  repeat {
    first <- sub("[.].*", "", of)
    if (length(unique(first)) != 1 || !all(grepl(".", of, fixed = TRUE))) break
    of <- sub("^[^.]*[.]", "", of)
    names <- sub("^[^.]*[.]", "", names)
  }
  names
}
