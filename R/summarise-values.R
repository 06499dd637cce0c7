# One arm alone: what its passes gave, how much they differ, and how well their mean is known.

value_columns <- c(
  "workload", "segment", "context", "arm", "metric", "unit", "better", "scale", "passes", "value", "lower", "upper",
  "noise", "unit_of_replication", "best", "best_pass", "worst", "worst_pass"
)

#' @param readings Completed readings. @param arms In the order in which they are told.
#' @param confidence Of each mean, on its own.
#' @return Data frame with `value_columns`: see [describe_passes()].
#' @noRd
describe_values <- function(readings, arms, confidence = 0.95) {
  rows <- readings[is_counted(readings), , drop = FALSE]
  table <- plain_table(rows)
  cells <- split_in_order(
    seq_len(nrow(table)), table$workload, table$segment, table$context, table$arm, table$metric
  )
  out <- stack_rows(lapply(cells, function(at) describe_cell_of(take_rows(table, at), confidence)))
  if (is.null(out)) {
    return(NULL)
  }
  place <- place_names(out)
  out[order(match(place, unique(place)), match(out$metric, unique(out$metric)), match(out$arm, arms)), , drop = FALSE]
}

describe_cell_of <- function(rows, confidence) {
  first <- lapply(rows[c("workload", "segment", "context", "arm", "metric", "unit", "better", "scale")], `[`, 1)
  scale <- if (first$scale == "percent" && all(rows$value > 0)) "percent" else "absolute"
  y <- to_analysis(rows$value, scale)
  back <- if (scale == "percent") exp else identity
  mean_of <- known_to(y, rows$boot, confidence)
  up <- if (first$better == "lower") -1 else 1
  best <- which.max(up * rows$value)
  worst <- which.min(up * rows$value)
  noise <- if (length(y) > 1) to_shown(stats::sd(y), scale) else NA_real_
  list2DF(c(utils::modifyList(first, list(scale = scale)), list(
    passes = length(y), value = back(mean_of$mean), lower = back(mean_of$lower), upper = back(mean_of$upper),
    noise = noise, unit_of_replication = mean_of$unit, best = rows$value[best], best_pass = rows$pass[best],
    worst = rows$value[worst], worst_pass = rows$pass[worst]
  )))[value_columns]
}

# where passes share a boot, boots are what tells how much the next one would differ
known_to <- function(y, boot, confidence) {
  units <- independent_values(y, boot)
  booted <- length(units) < length(y)
  n <- length(units)
  half <- if (n > 1) t_reach(1 - confidence, n - 1) * stats::sd(units) / sqrt(n) else NA_real_
  c(list(mean = mean(units)), interval_about(mean(units), half), list(unit = if (booted) "boot" else "pass"))
}

independent_values <- function(y, boot) {
  group <- sharing_groups(boot)
  if (is.null(group)) y else as.numeric(tapply(y, group, mean))
}

#' Which passes share what their boot (or block) was like; `NULL` where each stands for itself
#' @param ... Columns, one element a pass: the first in which groups of several passes are known everywhere counts.
#' @noRd
sharing_groups <- function(...) {
  Find(function(by) !anyNA(by) && anyDuplicated(by) && length(unique(by)) > 1, list(...))
}
