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
  rows <- do.call(rbind, lapply(c(arm, baseline), function(a) two[two$arm == a, , drop = FALSE]))
  near <- anchors_beside(rows$arm, rows$order, anchor$arm, anchor$order)
  rows <- rows[!is.na(near), , drop = FALSE]
  rows$y <- rows$y - anchor$y[near[!is.na(near)]] + level
  if (min(sum(rows$arm == arm), sum(rows$arm == baseline)) < 2) {
    return(NULL)
  }
  moved <- to_shown(mean(anchor$y[anchor$arm == arm]) - mean(anchor$y[anchor$arm == baseline]), scale)
  list(rows = rows, code = new_code("anchor", workload = anchor$workload[1], moved = moved, scale = scale))
}

#' Which anchor pass ran beside each pass, in its own arm or study
#'
#' One side goes first everywhere, the one that leaves fewer passes alone: an anchor before the passes of one arm and
#' after those of the other would leave the time between two visits in their difference.
#' @param group,order Arm or study of each pass, and its place. @param of,anchor The same of the anchor's passes.
#' @return Indices into `anchor`, `NA` where none is left.
#' @noRd
anchors_beside <- function(group, order, of, anchor) {
  none <- rep(NA_integer_, length(order))
  sides <- list(before = none, after = none)
  for (one in unique(group)) {
    here <- which(of == one)
    found <- nearest_passes(order[group == one], anchor[here])
    for (side in names(sides)) sides[[side]][group == one] <- here[found[[side]]]
  }
  sides[[which.min(vapply(sides, function(side) sum(is.na(side)), 1L))]]
}

#' Which anchor pass ran beside each pass: the nearest before or after it, each used once
#'
#' An anchor pass that spoke for two would count twice, and one further off says nothing of that time. Where both lie
#' as near, as in alternating passes, one side goes first.
#' @return A list, `before` and `after` by the side that goes first: indices into `anchor`, `NA` where none is left.
#'   Where an order is not known, the k-th goes with the k-th.
#' @noRd
nearest_passes <- function(order, anchor) {
  if (anyNA(order) || anyNA(anchor) || !length(anchor)) {
    both <- seq_len(min(length(order), length(anchor)))
    kth <- replace(rep(NA_integer_, length(order)), both, both)
    return(list(before = kth, after = kth))
  }
  sorted <- base::order(anchor)
  at <- findInterval(order, anchor[sorted])
  before <- sorted[ifelse(at > 0, at, NA)]
  after <- sorted[ifelse(at < length(anchor), at + 1, NA)]
  list(
    before = each_once(order, anchor, cbind(before, after)), after = each_once(order, anchor, cbind(after, before))
  )
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
