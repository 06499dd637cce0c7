# Anchors: where the old state cannot come back, a workload that the setting
# cannot touch, run beside the others before and after, shows what time alone did.

#' Passes of the anchor that speak for one cell: same metric, same context
#' @noRd
anchor_passes <- function(readings, first, anchors) {
  if (!length(anchors) || first$workload %in% anchors) {
    return(NULL)
  }
  same <- readings$workload %in% anchors & is.na(readings$segment) & readings$metric == first$metric &
    is_counted(readings) & (readings$context %in% first$context)
  rows <- readings[same, , drop = FALSE]
  if (nrow(rows)) rows[rows$workload == rows$workload[1], c("workload", "arm", "order", "value")]
}

#' Take out of each pass what its anchor pass showed
#'
#' The k-th pass of an arm goes with the k-th anchor pass of that arm, run in the
#' same visit; their difference (of logarithms, for percent) is weighed, which
#' is a difference in differences: what moves both in the same way drops out.
#' @param two Counted rows of two arms, with `y`. @return `NULL` where there is no
#'   anchor for both arms; else a list: `rows` and `code`.
#' @noRd
take_anchor_out <- function(two, anchor, arm, baseline, scale) {
  if (is.null(anchor)) {
    return(NULL)
  }
  anchor$y <- to_analysis(anchor$value, scale)
  level <- mean(anchor$y[anchor$arm %in% c(arm, baseline)])
  parts <- lapply(c(arm, baseline), function(a) {
    rows <- two[two$arm == a, , drop = FALSE]
    beside <- anchor[anchor$arm == a, , drop = FALSE]
    rows <- rows[order(rows$order), , drop = FALSE]
    n <- min(nrow(rows), nrow(beside))
    rows <- rows[seq_len(n), , drop = FALSE]
    rows$y <- rows$y - beside$y[order(beside$order)][seq_len(n)] + level
    rows
  })
  if (min(vapply(parts, nrow, 1L)) < 2) {
    return(NULL)
  }
  moved <- to_shown(mean(anchor$y[anchor$arm == arm]) - mean(anchor$y[anchor$arm == baseline]), scale)
  list(
    rows = do.call(rbind, parts), code = new_code("anchor", workload = anchor$workload[1], moved = moved, scale = scale)
  )
}
