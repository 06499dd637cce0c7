# Which arm is good enough, in a terminal.

#' @export
print.honestmargin_floors <- function(x, ...) {
  writeLines(c(
    fold(floor_words(x)), "", table_lines(floors_shown(x), c("mean", "floor", "failed"),
      whole = c("lies in", "next pass"), group = c("workload", "metric")
    ), "", fold(floors_footing(x), rest = "")
  ))
  invisible(x)
}
