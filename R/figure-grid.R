# Every primary answer in a grid: a row for each place and metric, a column for each arm.

#' @param verdicts From [weigh()], against one baseline.
#' @return A list: `arms` (columns), `rows` (a list, one for each place and metric: `title`, `about`, `limit` (half the
#'   width of its scale), `worth`, `cells`, a list by arm of verdict rows or `NULL`), `shared` (see `grid_limits()`);
#'   `NULL` where no metric is primary, or arms stand against several baselines.
#' @noRd
answer_grid <- function(verdicts, labels) {
  if (has_pairs(verdicts) || !any(verdicts$role == "primary")) {
    return(NULL)
  }
  rows <- plain_table(verdicts)[verdicts$role == "primary", , drop = FALSE]
  arms <- unique(rows$arm)
  key <- cell_key(rows)
  limits <- grid_limits(rows)
  each <- lapply(split(rows, factor(key, unique(key))), function(here) {
    first <- here[!is.na(here$baseline_value), , drop = FALSE]
    base <- if (nrow(first)) {
      paste0(arm_names(first$baseline[1], labels), ": ", number_words(first$baseline_value[1], first$unit[1]))
    }
    list(
      title = paste0(place_names(here[1, ]), ", ", metric_labels(here$metric[1], labels)),
      about = paste(c(base, answer_about(here)), collapse = "; "),
      limit = limits$of[[metric_key(here[1, ])]],
      worth = here$worth[1], scale = here$scale[1],
      cells = lapply(stats::setNames(nm = arms), function(arm) {
        row <- here[here$arm == arm, , drop = FALSE]
        if (nrow(row)) row
      })
    )
  })
  list(arms = arms, rows = unname(each), shared = limits$shared)
}

metric_key <- function(rows) paste(rows$metric, rows$scale, sep = "\r")

#' How far the pictures reach: all that is in percent on one scale, unless some of it would be too small to see there
#' @return A list: `of` (named by metric and scale), `shared` (`all` rows have one scale, or those in `percent`, or
#'   `none`).
#' @noRd
grid_limits <- function(rows) {
  of <- vapply(split(seq_len(nrow(rows)), metric_key(rows)), function(at) grid_limit(rows[at, , drop = FALSE]), 1)
  percent <- endsWith(names(of), "\rpercent")
  near <- any(percent) && max(of[percent]) <= 8 * min(of[percent])
  if (near) of[percent] <- max(of[percent])
  list(of = of, shared = if (length(of) == 1 || near && all(percent)) "all" else if (near) "percent" else "none")
}

# one far end must not flatten all others
grid_limit <- function(rows) {
  ends <- abs(c(rows$lower, rows$upper))
  ends <- ends[is.finite(ends)]
  change <- abs(rows$change[is.finite(rows$change)])
  most <- if (length(ends)) stats::quantile(ends, 0.9, names = FALSE) else 0
  1.1 * max(most, 1.15 * change, rows$worth, 1e-9, na.rm = TRUE)
}
