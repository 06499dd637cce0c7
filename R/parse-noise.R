# Noise known from elsewhere, as a small CSV of the tester's.

#' @return Data frame `workload`, `metric`, `noise`, `df`, `source`.
#' @noRd
read_noise <- function(path) {
  cells <- read_text_table(path, "file of known noise")$cells
  missing <- setdiff(c("metric", "noise", "df"), names(cells))
  if (length(missing)) {
    abort_input(
      paste0("no column '", missing[1], "'"), path,
      "known noise has the columns workload, metric, noise (standard deviation of one pass), df and source"
    )
  }
  for (column in c("noise", "df")) {
    parsed <- parse_typed_numbers(cells[[column]])
    if (length(parsed$bad) || anyNA(parsed$value) || any(parsed$value <= 0)) {
      at <- c(parsed$bad, which(is.na(parsed$value) | parsed$value <= 0))[1]
      abort_input(
        paste0("column ", column, ": '", plain_text(cells[[column]][at]), "' is not a number above 0"),
        c(path, paste("line", cells$.line[at])), "write digits"
      )
    }
    cells[[column]] <- parsed$value
  }
  data.frame(
    workload = if (is.null(cells$workload)) "main" else cells$workload, metric = cells$metric, noise = cells$noise,
    df = cells$df,
    source = if (is.null(cells$source)) basename(path) else ifelse(is.na(cells$source), basename(path), cells$source)
  )
}
