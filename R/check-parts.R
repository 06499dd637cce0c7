# A total can hide parts that moved in opposite directions.

#' @param verdicts From `weigh_cells()`.
#' @param metrics The plan's metrics; those
#'   with `parts` are totals.
#' @return Findings, one per total, arm and place whose parts disagree.
#' @noRd
hidden_parts <- function(verdicts, metrics) {
  totals <- Filter(function(m) length(m$parts) > 1, metrics)
  found <- lapply(totals, function(total) {
    rows <- verdicts[verdicts$metric %in% unlist(total$parts), , drop = FALSE]
    groups <- split(rows, paste(rows$workload, rows$context, rows$arm, sep = "\r"))
    do.call(bind_findings, lapply(groups, function(g) {
      better <- g$metric[g$verdict %in% c("gain", "clear gain")]
      worse <- g$metric[g$verdict %in% c("loss", "clear loss")]
      if (!length(better) || !length(worse)) {
        return(NULL)
      }
      new_finding("warning", "parts",
        paste0("the total '", total$id, "' hides that ", some_of(better), " gained and ", some_of(worse), " lost"),
        "judge the parts, not their total",
        workload = g$workload[1], context = g$context[1], metric = total$id, arm = g$arm[1]
      )
    }))
  })
  do.call(bind_findings, found)
}
