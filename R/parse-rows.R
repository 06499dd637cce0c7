# Tables without a heading, a row for each arm: "off: 135.2 136.1 134.9".

#' Rows that are an arm and its passes
#'
#' Numbers in the first row that are of the size of those below are passes, and no arms of a heading.
#' @param lines Those that hold something.
#' @return `NULL` where they are no such rows; else a data frame of text: `arm`, `run 1`, `run 2`, ...
#' @noRd
rows_of_arms <- function(lines) {
  if (length(lines) < 2 || length(lines) > 50) {
    return(NULL)
  }
  label <- "[^:=,;\t\"]*[[:alpha:]][^:=,;\t\"]*?"
  shape <- paste0("^\\s*\"?(", label, ")\"?\\s*([:=,;\t]|\\s)\\s*(.*)$")
  parts <- regmatches(lines, regexec(shape, lines, perl = TRUE))
  if (any(lengths(parts) == 0)) {
    return(NULL)
  }
  arm <- trimws(vapply(parts, `[`, "", 2))
  rest <- trimws(vapply(parts, `[`, "", 4))
  # a comma parts them where nothing else does
  passes <- strsplit(rest, if (all(grepl("[;[:space:]]", rest))) "\\s*[;[:space:]]\\s*" else "\\s*,\\s*")
  if (all(lengths(passes) < 2) || !all(is_number_text(unlist(passes)))) {
    return(NULL)
  }
  known <- names_a_metric(arm) | vapply(arm, name_the_arm, NA) | tolower(arm) %in% reading_columns
  if (any(known)) {
    return(NULL)
  }
  value <- lapply(passes, function(p) parse_typed_numbers(p, if (any(grepl("[.]", rest))) "point" else "comma")$value)
  said <- grepl("[:=]", vapply(parts, `[`, "", 3))
  typed <- any(grepl("[.,]", passes[[1]])) || all(said)
  below <- unlist(value[-1])
  alike <- !anyNA(unlist(value)) && all(value[[1]] > min(below) / 3 & value[[1]] < max(below) * 3)
  if (!typed || !alike) {
    return(NULL)
  }
  cells <- do.call(rbind, lapply(passes, `[`, seq_len(max(lengths(passes)))))
  colnames(cells) <- paste("run", seq_len(ncol(cells)))
  cbind(data.frame(arm = arm), cells)
}

#' @param lines Where each row stands.
#' @noRd
table_of_rows <- function(rows, lines) {
  list(
    cells = cbind(rows, .line = lines), decimal = if (any(grepl("[.]", unlist(rows[-1])))) "point" else "comma",
    findings = new_finding("note", "rows_of_arms", arms = rows$arm)
  )
}
