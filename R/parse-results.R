# Results of passes as programs leave them, a file for each: names and numbers, a line each; one row below a heading;
# a number alone.

#' Which of these files are results of passes, one each?
#'
#' All are built alike, short, and hold one pass: what a log of frames or a table of many passes cannot be. One that is
#' empty is of a pass that did not get so far.
#' @param paths Files.
#' @noRd
hold_results <- function(paths) {
  none <- rep(FALSE, length(paths))
  if (length(paths) < 2) {
    return(none)
  }
  json <- grepl(json_ending, paths, ignore.case = TRUE)
  size <- file.size(paths)
  short <- which(!json & grepl(output_ending, paths, ignore.case = TRUE) & !dir.exists(paths) & size %in% 1:20000)
  keys <- lapply(paths[short], keys_of_result)
  # what one pass wrote, another may lack
  usual <- unlist(keys)
  usual <- usual[duplicated(usual)]
  none[short] <- vapply(keys, function(k) any(k %in% usual), NA)
  none | json | size %in% 0 & any(none)
}

are_results <- function(paths) length(paths) > 1 && all(hold_results(paths))

# what the numbers of a result are called, `NULL` where it is none
keys_of_result <- function(path) {
  lines <- tryCatch(few_lines(path), error = function(e) NULL)
  if (is.null(lines)) {
    return(NULL)
  }
  named <- named_lines(lines)
  if (!is.null(named)) {
    return(names(named)[is_measured(named)])
  }
  if (length(lines) == 1 && is_measured(lines)) "value" else row_below_heading(lines)
}

# all its lines that hold something, where they are few
few_lines <- function(path, most = 200) {
  opened <- open_text(path, "result")
  if (opened$temporary) on.exit(unlink(opened$file))
  lines <- first_lines(opened$file, most + 1)
  if (length(lines) <= most) lines[has_text(lines)]
}

# a number, with its unit or without
is_measured <- function(text) grepl("^[-+]?[0-9][0-9.,:]*\\s*[[:alpha:]\u00b0%]*(/[[:alpha:]]+)?$", trimws(text))

#' Names and what stands behind them, a line each: "Average FPS: 120.3", "load = 4.2 s", "1% low ..... 71"
#'
#' Lines that are built otherwise (titles, rules) are passed over where they are fewer.
#' @return Named character; `NULL` where these are no such lines, or hold no number.
#' @noRd
named_lines <- function(lines) {
  lines <- lines[grepl("[[:alnum:]]", lines)]
  shape <- "^\\s*(?:[-*]\\s+)?([^:=\t;,]*?[[:alpha:]%][^:=\t;,]*?)\\s*([:=]|[.]{2,}:?|\\s{2,}|\t)\\s*(\\S.*?)\\s*$"
  parts <- regmatches(lines, regexec(shape, lines, perl = TRUE))
  parts <- parts[lengths(parts) > 0]
  if (!length(parts) || length(parts) <= length(lines) / 2) {
    return(NULL)
  }
  name <- trimws(vapply(parts, `[`, "", 2))
  value <- vapply(parts, `[`, "", 4)
  said <- grepl("[:=.]", vapply(parts, `[`, "", 3))
  # blanks alone part a table too, so there the names have to say it
  sure <- all(said) || any(names_a_metric(name[is_measured(value)]))
  if (sure && !anyDuplicated(tolower(name)) && any(is_measured(value))) stats::setNames(value, name)
}

# the headings of numbers, where one row stands below one heading
row_below_heading <- function(lines) {
  if (length(lines) != 2) {
    return(NULL)
  }
  held <- vapply(separators, function(s) grepl(s, lines[1], fixed = TRUE), NA)
  cells <- if (any(held)) first_cells(lines, separators[held][1]) else matrix(trimws(lines))
  if (anyNA(cells[1, ]) || any(is_measured(cells[1, ]))) {
    return(NULL)
  }
  # one frame is what a log is left with where a program fell at once
  measured <- cells[1, which(is_measured(cells[2, ]))]
  if (length(measured) && !all(grepl(framelike, measured, ignore.case = TRUE))) measured
}

#' A result as a table of one row
#' @param decimal The mark that all results have in common.
#' @return As `read_text_table()` gives a table; of results in rows and of JSON as that reads them.
#' @noRd
read_result <- function(path, decimal) {
  if (grepl(json_ending, path, ignore.case = TRUE)) {
    return(read_text_table(path, "readings file", TRUE, FALSE))
  }
  lines <- if (file.size(path) > 0) few_lines(path)
  named <- if (length(lines)) named_lines(lines)
  if (is.null(named) && length(lines) > 1) {
    return(read_text_table(path, "readings file", TRUE, FALSE))
  }
  if (is.null(named)) named <- if (length(lines)) c(metric = "value", value = trimws(lines)) else character()
  cells <- named_cells(list2DF(as.list(named), 1L), path)
  cells$.line <- 1L
  list(cells = cells, row = "result", decimal = decimal, strings = names(named)[!is_measured(named)])
}

# where all numbers have commas, these are no marks between columns
decimal_of_results <- function(paths) {
  written <- paths[!grepl(json_ending, paths, ignore.case = TRUE) & file.size(paths) > 0]
  text <- unlist(lapply(written, few_lines))
  if (any(grepl("[0-9],[0-9]", text)) && !any(grepl("[0-9][.][0-9]", text))) "comma" else "point"
}
