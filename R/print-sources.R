# Where the noise comes from, in a terminal.

#' @export
print.honestmargin_sources <- function(x, ...) {
  writeLines(c(
    "Where the noise comes from", fold(sources_words(x), first = "  ", rest = "    "), "",
    fold(sources_footing(x), rest = "")
  ))
  invisible(x)
}
