# Tables that stand below one another in one file, each under its title.

#' The titles of tables that are headed alike
#'
#' @param lines Of a text. @param used Numbers of those that hold something.
#' @param heads Numbers of those that are the heading, two at least.
#' @return A list: `title`, `at` (their lines), one for each heading; `NULL` where they do not all have one.
#' @noRd
titles_of_blocks <- function(lines, used, heads, separator) {
  before <- match(heads, used) - 1
  if (length(heads) < 2 || is.na(separator) || any(before < 1)) {
    return(NULL)
  }
  at <- used[before]
  title <- vapply(cells_of_lines(lines[at], separator), function(cells) {
    filled <- cells[has_text(cells)]
    if (length(filled) == 1 && grepl("[[:alpha:]]", filled)) sub("\\s*:$", "", filled) else NA_character_
  }, "")
  if (!anyNA(title) && !anyDuplicated(title)) list(title = title, at = at)
}

#' What the titles say of the rows below them: their arm, or where they ran if that is said already
#' @param cells With `.line`. @param blocks From `titles_of_blocks()`.
#' @return A list: `cells`, `findings`.
#' @noRd
name_blocks <- function(cells, blocks) {
  as <- if (!name_the_arm(names(cells))) "arm" else if (!"workload" %in% names(cells)) "workload"
  if (is.null(blocks) || is.null(as)) {
    return(list(cells = cells))
  }
  cells[[as]] <- blocks$title[findInterval(cells$.line, blocks$at)]
  list(cells = cells, findings = new_finding("note", "titled_tables", titles = blocks$title, as = as))
}
