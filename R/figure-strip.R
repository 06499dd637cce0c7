# Every reading so far as a point, for a page that is redrawn with each pass.

#' @param study A study that may still be running. @param seen From `look_at()`, or `NULL`.
#' @param most How many points of an arm: the last ones.
#' @return A list, one for each place and primary metric: `title`, `unit`, `from` and `to` (ends of the axis, round
#'   numbers of the metric), `arms` (a list of lists: `name`, `baseline`, `value` (numbers), `latest` (which of them
#'   came last, or 0), `left_out` (how many are not shown), `fell` (passes that gave no value), `seen` (a row, or
#'   `NULL`)).
#' @noRd
strip_data <- function(study, seen = NULL, most = 40) {
  labels <- plan_labels(study$plan)
  shown <- strip_rows(study, unique(seen$metric))
  key <- cell_key(shown)
  lapply(split(shown, factor(key, unique(key))), function(rows) {
    arms <- arm_order(rows$arm, intersect(plan_arms(study$plan), rows$arm))
    value <- rows$value[ran_well(rows) & is.finite(rows$value)]
    ends <- if (length(value)) range(pretty(range(value), 4)) else c(0, 1)
    list(
      title = paste0(place_names(rows[1, ]), ", ", metric_labels(rows$metric[1], labels)),
      unit = empty_na(rows$unit[1]), from = ends[1], to = ends[2],
      arms = lapply(arms, function(arm) strip_arm(rows, arm, seen, labels, most, study$plan$setting$baseline))
    )
  })
}

strip_rows <- function(study, judged) {
  rows <- plain_table(study$readings)
  rows <- rows[!rows$role %in% c("warm_up", roles_left_out), , drop = FALSE]
  wanted <- empty_to(plan_primary(study$plan), judged)
  # without any, the first of each workload that no sensor gave stands for it
  if (!any(rows$metric %in% wanted)) {
    own <- rows[!rows$metric %in% names(known_sensor_metrics()), , drop = FALSE]
    wanted <- unique(own$metric[!duplicated(own$workload)])
  }
  rows[rows$metric %in% wanted, , drop = FALSE]
}

strip_arm <- function(rows, arm, seen, labels, most, baseline) {
  own <- rows[rows$arm == arm, , drop = FALSE]
  good <- which(ran_well(own) & is.finite(own$value))
  latest <- which(own$pass[good] == rows$pass[nrow(rows)])
  kept <- utils::tail(seq_along(good), most)
  list(
    name = arm_names(arm, labels), baseline = identical(arm, baseline), value = own$value[good][kept],
    latest = if (length(latest)) match(latest[1], kept) else 0L, left_out = length(good) - length(kept),
    fell = nrow(own) - length(good), seen = if (!is.null(seen)) seen_row(seen, own[1, ], arm)
  )
}

seen_row <- function(seen, place, arm) {
  row <- seen[cell_key(seen) == cell_key(place) & seen$arm == arm, , drop = FALSE]
  if (nrow(row)) row
}
