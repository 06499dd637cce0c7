# Tables as data. Text from outside must not become a formula in a spreadsheet.

guard_cells <- function(table) {
  for (column in names(table)) {
    if (is.list(table[[column]]) || is.numeric(table[[column]]) || is.logical(table[[column]])) next
    # a row is a line
    text <- plain_text(gsub("[\r\n]+", " ", as.character(table[[column]])))
    risky <- !is.na(text) & grepl("^[-=+@\t\r]", text) & !grepl("^[-+]?[0-9]+([.][0-9]+)?$", text)
    text[risky] <- paste0("'", text[risky])
    table[[column]] <- text
  }
  table
}

#' @param table Data frame. @return Lines of CSV.
#' @noRd
csv_lines <- function(table) {
  table <- plain_table(table)
  lists <- vapply(table, is.list, NA)
  table[lists] <- lapply(
    table[lists], function(v) if (inherits(v, "honestmargin_codes")) as.character(v) else as.character(new_codes(v))
  )
  # far quicker than to capture what is printed
  to <- rawConnection(raw(), "w")
  on.exit(close(to))
  utils::write.csv(guard_cells(table), to, row.names = FALSE, na = "")
  strsplit(rawToChar(rawConnectionValue(to)), "\n", fixed = TRUE)[[1]]
}

#' @param ... Named parts of one object. @return One string of JSON.
#' @noRd
json_text <- function(...) {
  parts <- lapply(list(...), plain_json)
  as.character(jsonlite::toJSON(
    parts,
    dataframe = "rows", auto_unbox = TRUE, na = "null", null = "null", digits = NA, pretty = TRUE
  ))
}

plain_json <- function(part) if (is.data.frame(part)) list2DF(lapply(plain_table(part), unclass)) else part

package_version_text <- function() as.character(utils::packageVersion("honestmargin"))
