# Which arms are as good as the best, in a terminal.

#' @export
print.honestmargin_near <- function(x, ...) {
  writeLines(c(
    fold(near_words(x)), "", table_lines(near_shown(x), group = c("workload", "metric")), "",
    fold(near_footing(x), rest = "")
  ))
  invisible(x)
}
