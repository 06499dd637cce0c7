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
#' Each pass of an arm goes with the anchor pass of that arm that ran nearest to it, since passes may be missing of
#' either (pairing k-th with k-th is 12 % false with crashes and a drift); their difference (of logarithms, for
#' percent) is weighed, which is a difference in differences: what moves both in the same way drops out.
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
    near <- nearest_pass(rows$order, beside$order)
    rows <- rows[!is.na(near), , drop = FALSE]
    rows$y <- rows$y - beside$y[near[!is.na(near)]] + level
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

#' Which anchor pass ran beside each pass: the nearest before or after it, each used once
#'
#' An anchor pass that spoke for two would count twice, and one further off says nothing of that time. Where both lie
#' as near, as in alternating passes, the side that leaves fewer passes alone is taken.
#' @return Indices into `anchor`, `NA` where none is left. Where an order is not known, the k-th goes with the k-th.
#' @noRd
nearest_pass <- function(order, anchor) {
  if (anyNA(order) || anyNA(anchor) || !length(anchor)) {
    both <- seq_len(min(length(order), length(anchor)))
    return(replace(rep(NA_integer_, length(order)), both, both))
  }
  sorted <- base::order(anchor)
  at <- findInterval(order, anchor[sorted])
  before <- sorted[ifelse(at > 0, at, NA)]
  after <- sorted[ifelse(at < length(anchor), at + 1, NA)]
  sides <- list(each_once(order, anchor, cbind(before, after)), each_once(order, anchor, cbind(after, before)))
  sides[[which.min(vapply(sides, function(side) sum(is.na(side)), 1L))]]
}

# the closest pairs first; of those as close, the first column of `beside` goes before the second
each_once <- function(order, anchor, beside) {
  out <- rep(NA_integer_, length(order))
  pass <- row(beside)
  for (i in base::order(abs(anchor[beside] - order[pass]), col(beside), na.last = NA)) {
    if (!is.na(beside[i]) && is.na(out[pass[i]]) && !beside[i] %in% out) out[pass[i]] <- beside[i]
  }
  out
}
