# Every comparison of a study, row by row: which there are, how large the family
# is, and the verdict on each.

#' Weigh every comparison of a readings table
#'
#' @param readings From `complete_readings()`.
#' @param spec From `new_contrast_spec()`.
#' @return A list: `verdicts` (data frame, or `NULL` where there is none), `findings` and `family`, the number of
#'   primary comparisons in all.
#' @noRd
weigh_cells <- function(readings, spec) {
  readings <- readings[readings$better != "none", , drop = FALSE]
  cells <- split_in_order(
    seq_len(nrow(readings)), readings$workload, readings$segment, readings$context, readings$metric
  )
  table <- plain_table(readings)
  cells <- lapply(cells, function(at) take_rows(table, at))
  compared <- compared_arms(table, cells, spec)
  primary <- vapply(cells, is_primary, NA, spec = spec)
  family <- max(1, count_contrasts(compared[primary]) + empty_to(spec$beyond, 0))
  questions <- new.env(parent = emptyenv())
  cells <- lapply(seq_along(cells), function(i) {
    cell <- describe_cell(cells[[i]], primary[[i]], family, questions)
    cell$number <- i
    cell$anchor <- anchor_passes(table, cell$first, spec$anchors)
    cell$stored <- if (is.data.frame(spec$stored)) stored_noise(spec$stored, cell$first)
    cell
  })
  if (!spec$own_noise && !isTRUE(spec$looks)) cells <- with_priors(cells, compared)
  # a context may have no pair at all
  rows <- bind_contrasts(Map(compare_cell, cells, compared, MoreArgs = list(spec = spec, questions = questions)))
  if (is.null(rows)) {
    return(list(family = family))
  }
  rows <- with_few_signs(rows)
  rows <- tell_contrasts(judge_contrasts(rows, spec$ceilings, !isTRUE(spec$words_only)), cells, isTRUE(spec$looks))
  list(
    verdicts = verdict_table(rows), findings = order_findings(graver_where_blocked(cells, rows)), family = family,
    moderated = moderated_by(cells)
  )
}

# a drift blocks where it may be all of the change
graver_where_blocked <- function(cells, rows) {
  blocked <- which(rows$verdict == "blocked")
  blocked <- unique(rows$cell[blocked[has_code(rows$codes[blocked], "order_drift")]])
  lapply(cells, function(cell) {
    found <- cell$order_finding
    if (!is.null(found) && cell$number %in% blocked) found$severity <- "blocking"
    found
  })
}

is_primary <- function(rows, spec) {
  segment <- rows$segment[1]
  unplanned <- !is.na(segment) && nrow(spec$segments) > 0 &&
    !segment %in% spec$segments$segment[spec$segments$workload == rows$workload[1]]
  metric <- rows$metric[1]
  # sensors are recorded whether or not anybody asked, so only those named are judged
  chosen <- if (is.null(spec$primary)) !metric %in% spec$beside else metric %in% spec$primary
  chosen && !rows$workload[1] %in% spec$anchors && !unplanned
}

describe_cell <- function(rows, primary, family, questions) {
  first <- lapply(rows[c("workload", "segment", "context", "metric", "unit", "better", "scale")], `[`, 1)
  counted <- take_rows(rows[c("arm", "block", "boot", "order", "value", "seconds")], which(is_counted(rows)))
  counted$y <- to_analysis(counted$value, first$scale)
  role <- if (primary) "primary" else "exploratory"
  lump <- if (first$scale == "percent") worse_lump(counted$y, counted$arm, first$better)
  passes <- rows[c("arm", "role", "outcome")]
  do.call(new_cell, c(
    list(
      first = first, counted = counted, passes = passes, role = role, family = if (primary) family else 1,
      lump = if (!is.null(lump)) split(lump, counted$arm), failures = failures_by_arm(passes)
    ),
    describe_order(counted, first, role, questions)
  ))
}
