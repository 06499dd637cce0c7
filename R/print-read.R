# What was read, as a person reads it in a terminal.

#' The account of what an answer rests on, folded for a terminal; nothing where no table was read
#' @noRd
shown_read <- function(x) {
  lines <- read_lines(x)
  if (length(lines)) c("", fold(lines, first = "", rest = "  "))
}

#' @export
print.honestmargin_read <- function(x, ...) {
  print(plain_table(x), row.names = FALSE)
  left <- attr(x, "left_out")
  columns <- attr(x, "columns")
  if (nrow(columns)) {
    cat("\nColumns:\n")
    print(columns, row.names = FALSE)
  }
  if (nrow(left)) {
    cat("\nLeft out:\n")
    print(left, row.names = FALSE)
  }
  invisible(x)
}
