# Delimited text as cells, with the line each row came from.

#' Cells as text, with the line each row came from
#' @param titled Whether titles may stand above the heading, as in a sheet that people keep, or it may be JSON.
#' @param arms Whether it may be of several arms.
#' @return A list: `cells` (data frame of text, with `.line`), `unnamed` (columns that have no heading), `decimal`,
#'   `findings`.
#' @noRd
read_text_table <- function(path, what, titled = FALSE, arms = TRUE) {
  if (!is.null(sheet_ending(path))) {
    return(read_sheet(path, what))
  }
  opened <- open_text(path, what)
  if (opened$temporary) on.exit(unlink(opened$file))
  if (file.size(opened$file) > 2e7) {
    abort_input(
      "more than 20 MB: no table of passes is so long", path,
      "a log of frames is weighed in its folder, or with a layout: --layout; of other numbers give a row to each pass"
    )
  }
  lines <- first_lines(opened$file, -1)
  if (titled && is_json(lines, path)) {
    table <- table_of_json(lines, path, arms)
    table$findings <- bind_findings(opened$findings, table$findings)
    return(table)
  }
  framed <- if (titled) without_frame(lines)
  lines <- empty_to(framed$lines, lines)
  used <- used_lines(lines)
  if (length(used) < 2) abort_input("no rows below the heading", path, "one row per pass is needed")
  rows <- if (titled && arms) rows_of_arms(lines[used])
  table <- if (is.null(rows)) table_below_heading(lines, used, titled, path) else table_of_rows(rows, used)
  outside <- if (length(framed$outside)) titles_left(framed$outside, ",")
  table$findings <- bind_findings(opened$findings, outside, table$findings)
  table
}

# the lines of a text from its heading on
table_below_heading <- function(lines, used, titled, path) {
  blanks <- if (titled) columns_by_blanks(lines, used)
  lines <- empty_to(blanks$lines, lines)
  used <- empty_to(blanks$used, used)
  separator <- separators[vapply(separators, function(s) grepl(s, lines[used[1]], fixed = TRUE), NA)]
  heading <- if (titled) heading_of_text(lines[used], separator) else list(row = 1L)
  separator <- c(heading$separator, separator)[1]
  levels <- heading$levels
  above <- used[seq_len(heading$row - 1 - length(levels$row))]
  below <- used[seq(heading$row, length(used))]
  repeated <- if (titled) headings_again(lines, below)
  blocks <- titles_of_blocks(lines, used, c(below[1], repeated), separator)
  above <- setdiff(above, blocks$at)
  used <- setdiff(below, c(repeated, blocks$at))
  bare <- is.na(separator) && titled && are_bare_numbers(lines[used])
  alone <- bare || is.na(separator) && titled && is_one_column(lines[used])
  cells <- if (alone) cells_alone(lines[used], bare) else cells_of_text(lines, used, separator, path)
  if (!is.null(levels)) {
    levels <- levels_within(levels, length(cells), c(path, paste("line", used[1])))
    names(cells) <- levels$key
  }
  cells <- named_cells(cells, c(path, paste("line", used[1])))
  cells$.line <- if (bare) used else used[-1]
  unnamed <- names(cells)[empty_to(levels$unnamed, heading$unnamed)]
  stacked <- if (is.null(levels)) name_blocks(cells, blocks) else stack_levels(cells, levels)
  list(
    cells = stacked$cells, unnamed = unnamed, alone = alone,
    decimal = if (identical(separator, ",")) "point" else "comma",
    findings = bind_findings(
      stacked$findings, if (length(above)) titles_left(lines[above], separator),
      if (length(repeated) && is.null(blocks)) {
        new_finding("note", "heading_repeated", file = basename(path), lines = repeated)
      }
    )
  )
}

# a table as posts and terminals have it, in a frame of strokes; a line keeps its number
without_frame <- function(lines) {
  framed <- grepl("^\\s*\\|.*\\|\\s*$", lines)
  drawn <- grepl("^[-+:=|[:space:]]+$", lines)
  outside <- lines[!framed & !drawn & has_text(lines)]
  if (sum(framed & !drawn) < 2 || length(outside) > sum(framed)) {
    return(NULL)
  }
  lines[!framed | drawn] <- ""
  cells <- gsub("\\s*\\|\\s*", "\t", gsub("^\\s*\\|\\s*|\\s*\\|\\s*$", "", lines))
  list(lines = gsub("**", "", cells, fixed = TRUE), outside = outside)
}

headings_again <- function(lines, used) {
  if (grepl("[[:alpha:]]", lines[used[1]])) used[-1][lines[used[-1]] == lines[used[1]]]
}

# lines that hold neither nothing nor a comment; a spreadsheet writes an empty row as the marks between its cells
used_lines <- function(lines) {
  filled <- which(grepl("[^[:space:];,]", gsub("\"\"", "", lines, fixed = TRUE)))
  marked <- grepl("^\\s*#", lines)
  # a heading that begins with # names a column so, and its rows are no comments
  headed <- length(filled) > 1 && marked[filled[1]] && same_cells(lines[filled[1:2]])
  if (headed) filled else filled[!marked[filled]]
}

cells_alone <- function(lines, bare) {
  if (bare) {
    # nobody said what they are, so whoever knows which of them is better has to say
    return(data.frame(metric = "value", value = trimws(lines)))
  }
  stats::setNames(data.frame(trimws(lines[-1])), trimws(lines[1]))
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

# empty ones at the end are cells too
cells_of_lines <- function(lines, separator) {
  fields <- split_unquoted(paste0(lines, separator, "."), separator)
  cells <- trimws(unlist(lapply(fields, function(f) f[-length(f)])))
  quoted <- grep("^\".*\"$", cells)
  cells[quoted] <- substr(cells[quoted], 2, nchar(cells[quoted]) - 1)
  unname(split(cells, rep(factor(seq_along(fields)), lengths(fields) - 1)))
}

separators <- c(";", "\t", ",")

# scores alone, one a line; of so many more they would be frames
are_bare_numbers <- function(lines) length(lines) < 50 && !length(parse_typed_numbers(trimws(lines))$bad)

# a heading in words, and one number a line
is_one_column <- function(lines) grepl("[[:alpha:]]", lines[1]) && !length(parse_typed_numbers(trimws(lines[-1]))$bad)

#' Where a text has its heading
#' @param found Separators that its first line holds.
#' @return A list: `row`, `separator`, `unnamed` (numbers of columns without a heading) and `levels` (of a heading of
#'   two rows, from `levels_of_heading()`), where they had to be looked for.
#' @noRd
heading_of_text <- function(lines, found) {
  first <- utils::head(lines, 40)
  if (length(found)) {
    # nearly always it is the first line, and every cell of it has a word
    parts <- strsplit(first[1:2], found[1], fixed = TRUE)
    plain <- all(grepl("[^\"[:space:]]", parts[[1]])) && length(parts[[1]]) > 1 && !endsWith(first[1], found[1]) &&
      length(parts[[1]]) >= length(parts[[2]]) && any(is_number_text(parts[[2]]))
    if (plain) {
      return(list(row = 1L))
    }
  }
  held <- vapply(separators, function(s) sum(grepl(s, first, fixed = TRUE)), 1L)
  separator <- separators[which.max(held)]
  cells <- if (any(held > 0)) first_cells(first, separator)
  if (NROW(cells) < 2) {
    return(list(row = 1L))
  }
  levels <- levels_of_heading(cells)
  if (!is.null(levels)) {
    return(list(row = levels$row, separator = separator, unnamed = levels$unnamed, levels = levels))
  }
  row <- find_heading(cells)
  # what the first line says of how cells are parted stands where nothing is above the heading
  list(row = row, separator = if (row > 1) separator, unnamed = which(is.na(unlist(cells[row, ]))))
}

titles_left <- function(lines, separator) {
  text <- trimws(gsub(paste0("[", separator, "\"[:space:]]+"), " ", lines))
  new_finding("note", "above_heading", text = vapply(text[nzchar(text)], substr, "", 1, 60))
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
  any(vapply(c(";", "\t", ","), function(s) all(count(s) > 0) && length(unique(count(s))) == 1, NA))
}

number_columns <- function(long, path, row = "line") {
  for (column in intersect(c("order", "seconds", "part", "batch", "attempt"), names(long))) {
    parsed <- parse_typed_numbers(long[[column]])
    if (length(parsed$bad)) {
      abort_input(
        paste0("column ", column, ": '", plain_text(long[[column]][parsed$bad[1]]), "' is not a number"),
        c(path, paste(row, long$.line[parsed$bad[1]])), "write digits"
      )
    }
    long[[column]] <- parsed$value
  }
  long
}
