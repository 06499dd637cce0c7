# How firm the verdicts are, in a terminal.

#' @export
print.honestmargin_firmness <- function(x, ...) {
  writeLines(c("How firm the verdicts are", fold(firm_words(x), first = "  ", rest = "    ")))
  invisible(x)
}
