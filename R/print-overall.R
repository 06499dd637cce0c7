# What a study says beyond single comparisons, in a terminal.

#' @export
print.honestmargin_overall <- function(x, ...) {
  writeLines(overall_lines(x))
  invisible(x)
}

overall_lines <- function(x) {
  words <- overall_words(x)
  if (!length(words)) {
    asks <- "Nothing beyond single comparisons: it takes three arms, two workloads, two contexts or ordered values."
    return(fold(asks, rest = ""))
  }
  lines <- unlist(lapply(names(words), function(name) c(name, fold(words[[name]], first = "  ", rest = "    "), "")))
  c(lines, fold(overall_footing(x), rest = ""))
}
