# The cells that a question is asked of: the passes of one metric in one place.

# what they were weighed by
asked_of_verdicts <- function(verdicts) {
  rows <- plain_table(verdicts)[verdicts$role == "primary", , drop = FALSE]
  rows <- rows[!rows$metric %in% names(known_outcome_metrics()), , drop = FALSE]
  worth <- rows[!is.na(rows$worth) & !duplicated(rows$metric), , drop = FALSE]
  how <- attr(verdicts, "how")
  # where all pairs were asked for, the first row need not be against the baseline
  pairs <- !identical(empty_to(how$against, "baseline"), "baseline")
  list(
    baseline = if (!pairs) verdicts$baseline[1] else if (length(how$baseline)) how$baseline,
    worth = if (nrow(worth)) stats::setNames(worth$worth, worth$metric),
    primary = unique(rows$metric), confidence = verdicts$confidence[1]
  )
}

declared_of_verdicts <- function(verdicts) {
  c(
    attr(verdicts, "how")[c("steady", "noise", "no_limiter", "against", "setting_limits", "own_noise")],
    list(looks = isTRUE(attr(verdicts, "looks")))
  )
}

cells_by <- function(cells, columns) {
  key <- vapply(cells, function(cell) paste(unlist(place_of(cell)[columns]), collapse = "\r"), "")
  split(cells, factor(key, unique(key)))
}

# the cells that are judged: primary metrics, whole passes where there are any
overall_cells <- function(readings, spec) {
  rows <- plain_table(readings)
  rows <- rows[is_counted(rows) & rows$better != "none" & !rows$workload %in% spec$anchors, , drop = FALSE]
  whole <- unique(rows$workload[is.na(rows$segment)])
  rows <- rows[is.na(rows$segment) | !rows$workload %in% whole, , drop = FALSE]
  judged <- if (is.null(spec$primary)) !rows$metric %in% spec$beside else rows$metric %in% spec$primary
  rows <- rows[judged, , drop = FALSE]
  at <- split_in_order(seq_len(nrow(rows)), rows$workload, rows$segment, rows$context, rows$metric)
  lapply(at, function(i) {
    cell <- take_rows(rows, i)
    cell$y <- to_analysis(cell$value, cell$scale[1])
    cell
  })
}

place_of <- function(cell) lapply(cell[c("workload", "segment", "context", "metric", "unit", "scale")], `[`, 1)

# does a limiter hide this metric of any two arms here?
is_held <- function(cell, spec) {
  arms <- intersect(spec$arms, cell$arm)
  value <- vapply(arms, function(a) mean(cell$value[cell$arm == a]), 1)
  any(vapply(arms, function(a) {
    row <- c(place_of(cell), list(arm = a, baseline = a, arm_value = value[[a]], baseline_value = value[[a]]))
    any(held_sides(row, spec$ceilings)$touched)
  }, NA))
}
