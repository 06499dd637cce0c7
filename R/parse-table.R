# Delimited text as cells, with the line each row came from.

#' Cells as text, with the line each row came from: our own tables and those of programs, a heading and its rows
#' @return A list: `cells` (data frame of text, with `.line`), `decimal`, `findings`.
#' @noRd
read_text_table <- function(path, what) {
  if (!is.null(sheet_ending(path))) {
    sheet <- grid_of_sheet(path, NULL, what)
    cells <- named_cells(headed_rows(sheet$grid), path)
    cells$.line <- sheet$grid$line[-1]
    return(list(cells = cells, decimal = "point", findings = sheet$findings))
  }
  opened <- open_table_text(path, what)
  if (opened$temporary) on.exit(unlink(opened$file))
  lines <- first_lines(opened$file, -1)
  used <- used_lines(lines)
  if (length(used) < 2) abort_input("no rows below the heading", path, "one row per pass is needed", no_table = TRUE)
  separator <- text_separators[vapply(text_separators, function(s) grepl(s, lines[used[1]], fixed = TRUE), NA)][1]
  cells <- named_cells(cells_of_text(lines, used, separator, path), c(path, paste("line", used[1])))
  cells$.line <- used[-1]
  list(cells = cells, decimal = if (identical(separator, ",")) "point" else "comma", findings = opened$findings)
}

# lines that hold neither nothing nor a comment; a spreadsheet writes an empty row as the marks between its cells
used_lines <- function(lines) {
  filled <- which(grepl("[^[:space:];,]", gsub("\"\"", "", lines, fixed = TRUE)))
  marked <- grepl("^\\s*#", lines)
  # a heading that begins with # names a column so, and its rows are no comments
  headed <- length(filled) > 1 && marked[filled[1]] && same_cells(lines[filled[1:2]])
  if (headed) filled else filled[!marked[filled]]
}

cells_of_text <- function(lines, used, separator, path) {
  if (is.na(separator)) {
    abort_input(
      "one column only", c(path, paste("line", used[1])),
      paste(
        "separate the columns by commas, semicolons or tabs; at least arm and a score are needed;",
        "logs of frames, one each line, are weighed by folder: honestmargin weigh FOLDER"
      )
    )
  }
  fields <- cells_of_lines(lines[used], separator)
  odd <- which(lengths(fields) != length(fields[[1]]))
  if (length(odd)) {
    abort_input(
      "a row has more or fewer cells than the heading", c(path, paste("line", used[odd[1]])),
      "quote cells that hold the separator"
    )
  }
  text <- matrix(unlist(fields), nrow = length(fields), byrow = TRUE)
  cells <- as.data.frame(text[-1, , drop = FALSE])
  bare <- !has_text(text[1, ])
  names(cells) <- ifelse(bare, paste0("V", seq_along(bare)), text[1, ])
  cells[] <- lapply(cells, function(v) replace(v, !has_text(v), NA))
  if (any(grepl("['\"]", lines))) cells[] <- lapply(cells, unquoted_cells)
  cells
}

#' Lines as cells; empty ones at the end are cells too
#' @param inside What is done with the text of a cell in quotes.
#' @noRd
cells_of_lines <- function(lines, separator, inside = identity) {
  fields <- split_unquoted(paste0(lines, separator, "."), separator)
  cells <- trimws(unlist(lapply(fields, function(f) f[-length(f)])))
  quoted <- grep("^\".*\"$", cells)
  cells[quoted] <- inside(substr(cells[quoted], 2, nchar(cells[quoted]) - 1))
  unname(split(cells, rep(factor(seq_along(fields)), lengths(fields) - 1)))
}

# our own guard against spreadsheet formulas is taken off again, and quotes that are doubled in quoted cells; a
# cell that is empty inside its quotes is empty
unquoted_cells <- function(v) {
  v <- gsub("\"\"", "\"", sub("^'([-=+@])", "\\1", v), fixed = TRUE)
  replace(v, !grepl("[^[:space:]]", v), NA)
}

# each column by one name, our own in small letters
named_cells <- function(cells, where) {
  names(cells) <- trimws(names(cells))
  twice <- names(cells)[duplicated(names(cells))]
  if (length(twice)) {
    abort_input(paste0("two columns are called '", twice[1], "'"), where, "give each column its own name")
  }
  known <- tolower(names(cells)) %in% reading_columns
  names(cells)[known] <- tolower(names(cells)[known])
  cells
}

same_cells <- function(lines) {
  count <- function(s) lengths(regmatches(lines, gregexpr(s, lines, fixed = TRUE)))
  any(vapply(text_separators, function(s) all(count(s) > 0) && length(unique(count(s))) == 1, NA))
}
