# Rare events: in how many passes, how often, and numbers that lie in two lumps because of one.

#' @param rows Data frame of counted readings of one count: `workload`, `context`, `group` (what is counted by),
#'   `value`, `seconds`.
#' @return Data frame, one row per place and group: see [event_table()].
#' @noRd
count_events <- function(rows) {
  cells <- split_in_order(seq_len(nrow(rows)), rows$workload, rows$context, rows$group)
  stack_rows(lapply(cells, function(at) {
    r <- take_rows(rows, at)
    with <- sum(r$value > 0)
    minutes <- if (anyNA(r$seconds)) NA_real_ else sum(r$seconds) / 60
    possible <- possible_share(with, length(at))
    rate <- possible_rate(sum(r$value), minutes)
    data.frame(
      workload = r$workload[1], context = r$context[1], group = r$group[1], passes = length(at), with = with,
      with_lower = 100 * possible$lower, with_upper = 100 * possible$upper, events = sum(r$value), minutes = minutes,
      per_minute = sum(r$value) / minutes, per_minute_lower = rate$lower, per_minute_upper = rate$upper
    )
  }))
}

#' Does a metric lie in two lumps, the worse of them rare?
#'
#' Within each arm, against the level that most of its passes reach; so arms at different levels are no lumps.
#' @param y Values on the scale of analysis (logarithms). @param arm Of each. @param better `higher` or `lower`.
#' @return `NULL`, or a logical: which passes lie in the worse lump. The gap must be larger than 25 % and five times the
#'   spread of the better lump.
#' @noRd
worse_lump <- function(y, arm, better) {
  # no gap is wider than twice the whole range
  if (length(y) < 8 || better == "none" || 2 * (max(y) - min(y)) <= log(1.25)) {
    return(NULL)
  }
  up <- if (better == "lower") -y else y
  above <- vapply(split(up, arm), stats::quantile, 1, probs = 0.75, names = FALSE)
  r <- up - above[arm]
  order <- order(r)
  gaps <- diff(r[order])
  at <- which.max(gaps)
  low <- order[seq_len(at)]
  high <- setdiff(order, low)
  rare <- length(low) >= 2 && length(low) < length(high)
  if (rare && gaps[at] > log(1.25) && gaps[at] > 5 * stats::sd(r[high])) seq_along(y) %in% low
}
