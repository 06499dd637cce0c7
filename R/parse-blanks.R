# Tables whose columns are parted by blanks, as terminals and posts have them.

#' Lines with tabs where blanks part the columns
#'
#' Two blanks part them, or one where that gives every line as many cells.
#' @param lines Of a text. @param used Numbers of those that hold something.
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
    if (!even || any(is_number_text(cells[[rows[1]]])) || grepl(",", parted[rows[1]], fixed = TRUE)) next
    if (!any(is_number_text(cells[[rows[2]]]))) next
    lines[used] <- parted
    return(list(lines = lines, used = used))
  }
}
