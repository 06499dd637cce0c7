# Claims of which all must hold, in a terminal.

#' @export
print.honestmargin_together <- function(x, ...) {
  writeLines(c(fold(together_words(x), rest = "  "), "", fold(together_footing(x), rest = "")))
  invisible(x)
}
