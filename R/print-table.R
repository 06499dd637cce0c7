# Plain tables and text for a terminal of 80 columns.

#' @param table Data frame of text.
#' @param right Columns set flush right.
#' @return Lines; the last column is cut where the line would pass `width`.
#' @noRd
table_lines <- function(table, right = character(), width = 80) {
  if (!nrow(table)) {
    return(character())
  }
  cells <- lapply(names(table), function(column) {
    text <- c(column, plain_text(ifelse(is.na(table[[column]]), "", table[[column]])))
    formatC(text, width = max(nchar(text)), flag = if (column %in% right) "" else "-")
  })
  lines <- sub("\\s+$", "", do.call(paste, c(cells, sep = "  ")))
  ifelse(nchar(lines) > width, paste0(substr(lines, 1, width - 3), "..."), lines)
}

#' Fold a paragraph, later lines indented
#' @noRd
fold <- function(text, first = "", rest = "  ", width = 80) {
  # a number stays with its per cent sign
  held <- gsub("([0-9]) %", "\\1\u00a0%", plain_text(text))
  lines <- unlist(lapply(held, function(t) strwrap(t, width = width, initial = first, prefix = rest)))
  gsub("\u00a0", " ", lines, fixed = TRUE)
}

shorten <- function(text, most) ifelse(nchar(text) > most, paste0(substr(text, 1, most - 2), ".."), text)
