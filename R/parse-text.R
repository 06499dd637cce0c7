# Delimited text, text parted by blanks, and tables drawn with strokes, as a grid of cells.

text_separators <- c(";", "\t", ",")

#' @return A list: `grid` (see `new_grid()`), `findings`.
#' @noRd
grid_of_text <- function(path, what = "readings file", arms = TRUE) {
  opened <- open_table_text(path, what)
  if (opened$temporary) on.exit(unlink(opened$file))
  text <- lines_of_table(opened$file)
  if (is_json(text$lines, path)) {
    table <- grid_of_json(text$lines, path, arms)
    table$findings <- bind_findings(opened$findings, text$findings, table$findings)
    return(table)
  }
  bare <- trimws(text$lines[has_text(text$lines)])
  if (length(bare) >= 50 && all(is_number_cell(utils::head(bare, 60))) && is.na(separator_of(utils::head(bare, 60)))) {
    abort_input(
      paste("one column of", length(bare), "numbers: these are frames or samples, and no passes"), path,
      "logs of frames, one each line, are weighed by folder: honestmargin weigh FOLDER"
    )
  }
  list(grid = grid_of_lines(text$lines, path), findings = bind_findings(opened$findings, text$findings))
}

#' As `open_text()`, refused where it is too long for a table
#' @noRd
open_table_text <- function(path, what) {
  opened <- open_text(path, what)
  if (file.size(opened$file) > 2e7) {
    if (opened$temporary) unlink(opened$file)
    abort_input(
      "more than 20 MB: no table of passes is so long", path,
      "a log of frames is weighed in its folder, or with a layout: --layout; of other numbers give a row to each pass"
    )
  }
  opened
}

# what is no UTF-8 is Windows-1252, which every byte can be
lines_of_table <- function(file) {
  lines <- readLines(file, warn = FALSE, encoding = "UTF-8")
  strange <- !validUTF8(lines)
  if (any(strange)) {
    lines[strange] <- iconv(lines[strange], "CP1252", "UTF-8", sub = "?")
    findings <- new_finding("note", "windows_text", n = count_of(sum(strange), "line"))
  }
  if (length(lines)) lines[1] <- sub("^\ufeff", "", lines[1])
  list(lines = sub("\r$", "", lines), findings = if (any(strange)) findings)
}

#' Lines of text as a grid
#' @param lines Character. @param path What they are called in messages.
#' @noRd
grid_of_lines <- function(lines, path) {
  framed <- without_frame(lines)
  lines <- empty_to(framed$lines, lines)
  used <- which(has_text(lines))
  if (!length(used)) abort_input("no rows below the heading", path, "one row per pass is needed")
  blanks <- if (is.null(framed)) columns_by_blanks(lines, used)
  lines <- empty_to(blanks$lines, lines)
  used <- empty_to(blanks$used, used)
  separator <- separator_of(lines[used])
  fields <- labelled_lines(lines[used])
  if (is.null(fields)) {
    fields <- if (is.na(separator)) as.list(trimws(lines[used])) else split_cells(lines[used], separator)
  }
  width <- max(lengths(fields))
  cells <- t(vapply(fields, function(f) c(f, rep(NA_character_, width - length(f))), character(width)))
  if (width == 1) cells <- matrix(cells, ncol = 1)
  grid <- new_grid(cells, used, path)
  grid$short <- short_rows(fields, grid)
  grid$said_passes <- identical(attr(fields, "labelled"), TRUE)
  grid
}

# the mark that gives the most lines the same number of cells, two or more
separator_of <- function(lines) {
  even <- vapply(text_separators, function(s) {
    count <- lengths(split_unquoted(paste0(lines, s, "."), s)) - 1
    count <- count[count > 1]
    if (length(count)) max(tabulate(count)) else 0
  }, 1)
  if (all(even == 0)) NA_character_ else text_separators[which.max(even)]
}

split_cells <- function(lines, separator) {
  # comments are a cell of their own
  comment <- grepl("^\\s*#(?!N/A)", lines, perl = TRUE) & !seq_along(lines) %in% headed_by_hash(lines, separator)
  out <- cells_of_lines(lines, separator, function(quoted) gsub("\"\"", "\"", quoted, fixed = TRUE))
  out[comment] <- as.list(trimws(lines[comment]))
  out
}

# a heading that begins with # names a column so: it has as many cells as the rows have
headed_by_hash <- function(lines, separator) {
  count <- lengths(strsplit(lines, separator, fixed = TRUE))
  marked <- grepl("^\\s*#", lines)
  usual <- as.integer(names(which.max(table(count))))
  alone <- grepl("^\\s*#\\s*$", vapply(strsplit(lines, separator, fixed = TRUE), `[`, "", 1))
  first <- seq_along(lines) == 1 & !grepl("^\\s*#[[:space:]]*[[:alpha:]]+[[:space:]]+[[:alpha:]]", lines)
  if (usual > 1) which(marked & count == usual & (alone | first))
}

# "off: 135.2 136.1 134.9", a line for each arm: what stands behind the colon are its passes
labelled_lines <- function(lines) {
  parts <- regmatches(lines, regexec("^\\s*([^:=]*[^:=[:space:]])\\s*[:=]\\s*(.*)$", lines))
  if (length(lines) < 2 || any(lengths(parts) == 0) ||
    any(grepl("^[0-9]+$", vapply(parts[lengths(parts) > 0], `[`, "", 2)))) {
    return(NULL)
  }
  rest <- vapply(parts, `[`, "", 3)
  parted <- if (any(grepl(";", rest))) ";" else if (all(grepl("[[:space:]]", trimws(rest)))) "blank" else ","
  mark <- c(`;` = "\\s*;\\s*", blank = "[,[:space:]]\\s*", `,` = "\\s*,\\s*")[[parted]]
  cells <- Map(function(p, r) c(p[2], strsplit(trimws(r), mark)[[1]]), parts, rest)
  numbers <- vapply(cells, function(f) length(f) > 1 && all(is_number_cell(f[-1])), NA)
  if (all(numbers)) structure(cells, labelled = TRUE)
}

# rows with fewer cells than the heading, where a field may be missing in the middle
short_rows <- function(fields, grid) {
  if (nrow(grid$cells) != length(fields)) {
    return(integer())
  }
  width <- max(lengths(fields))
  which(lengths(fields) > 1 & lengths(fields) < width)
}

# a table as posts and terminals have it, in a frame of strokes; a line keeps its number
without_frame <- function(lines) {
  framed <- grepl("^\\s*\\|.*\\|\\s*$", lines)
  drawn <- grepl("^[-+:=|[:space:]]+$", lines)
  outside <- lines[!framed & !drawn & has_text(lines)]
  if (sum(framed & !drawn) < 2 || length(outside) > sum(framed)) {
    return(NULL)
  }
  lines[drawn] <- ""
  cells <- gsub("\\s*\\|\\s*", "\t", gsub("^\\s*\\|\\s*|\\s*\\|\\s*$", "", lines))
  list(lines = gsub("**", "", cells, fixed = TRUE))
}

#' Lines with tabs where blanks part the columns: two blanks, or one where that gives every line as many cells
#' @return A list: `lines`, `used` (without rules drawn below a heading); `NULL` where they are no such table.
#' @noRd
columns_by_blanks <- function(lines, used) {
  used <- used[!grepl("^[-=+_[:space:]]+$", lines[used])]
  if (length(used) < 3 || any(grepl("[;\t]", lines[used]))) {
    return(NULL)
  }
  for (mark in c("\\s{2,}", "\\s+")) {
    parted <- gsub(mark, "\t", trimws(lines[used]))
    cells <- strsplit(parted, "\t", fixed = TRUE)
    width <- lengths(cells)[length(cells)]
    # a title above has fewer
    rows <- which(lengths(cells) == width)
    even <- width > 1 && length(rows) > 1 && identical(rows, seq(rows[1], length(used)))
    # a heading with commas is parted by them
    if (!even || any(is_number_cell(cells[[rows[1]]])) || grepl(",", parted[rows[1]], fixed = TRUE)) next
    if (!any(is_number_cell(cells[[rows[2]]]))) next
    lines[used] <- parted
    return(list(lines = lines, used = used))
  }
}
