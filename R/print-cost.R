# What a metric costs, in a terminal.

#' @export
print.honestmargin_costs <- function(x, ...) {
  table <- costs_shown(x)
  running <- if (NROW(x$running)) running_shown(x)
  writeLines(c(
    fold(cost_words(x)), "", table_lines(table, names(table)[3:5], whole = "change", group = "workload"),
    if (!is.null(running)) {
      c(
        "", "Running it, against the baseline:", "",
        table_lines(running, "more a year", whole = "lies in", group = "workload")
      )
    },
    "", fold(costs_footing(x), rest = "")
  ))
  invisible(x)
}
