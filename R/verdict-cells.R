# Every comparison of a study, row by row: which there are, how large the family
# is, and the verdict on each.

#' Weigh every comparison of a readings table
#'
#' @param readings From `complete_readings()`.
#' @param how A list: `baseline`, `arms` (in order), `worth` (named by metric),
#'   `confidence`, `primary` (metric ids, or `NULL` for all), `steady`, `stored`
#'   (data frame of known noise, `"baseline"` where its repeats stand for it, or `NULL`), `ceilings` (held arms or
#'   `NULL`), `anchors` (workloads that the setting cannot touch), `segments` (data frame `workload`, `segment`: those
#'   that the plan names; others that were marked are exploratory), `planned` (`TRUE` where a plan says which arms
#'   there are), `beside` (metrics that are primary only where they are named), `beyond` (how many primary comparisons
#'   of outcomes there are besides), `pairs` (sets of arms and what they are compared with, `NULL`: all with the
#'   baseline), `looks` (`TRUE` where the intervals must allow for looks),
#'   `most_units` (how many units a study that is looked at may come to, or `NULL`), `words_only` (`TRUE` where nobody
#'   asks what would settle a comparison).
#' @return A list: `verdicts` (data frame, or `NULL` where there is none), `findings` and `family`, the number of
#'   primary comparisons in all.
#' @noRd
weigh_cells <- function(readings, how) {
  readings <- readings[readings$better != "none", , drop = FALSE]
  cells <- split_in_order(
    seq_len(nrow(readings)), readings$workload, readings$segment, readings$context, readings$metric
  )
  table <- plain_table(readings)
  cells <- lapply(cells, function(at) take_rows(table, at))
  compared <- compared_arms(table, cells, how)
  primary <- vapply(cells, is_primary, NA, how = how)
  family <- max(1, count_contrasts(compared[primary]) + empty_to(how$beyond, 0))
  questions <- new.env(parent = emptyenv())
  cells <- lapply(seq_along(cells), function(i) {
    cell <- describe_cell(cells[[i]], primary[[i]], family, questions)
    cell$number <- i
    cell$anchor <- anchor_passes(table, cell$first, how$anchors)
    cell$stored <- if (is.data.frame(how$stored)) stored_noise(how$stored, cell$first)
    cell
  })
  # a context may have no pair at all
  rows <- bind_contrasts(Map(compare_cell, cells, compared, MoreArgs = list(how = how, questions = questions)))
  if (is.null(rows)) {
    return(list(family = family))
  }
  rows <- with_few_signs(rows)
  rows <- tell_contrasts(judge_contrasts(rows, how$ceilings, !isTRUE(how$words_only)), cells, isTRUE(how$looks))
  list(verdicts = verdict_table(rows), findings = order_findings(graver_where_blocked(cells, rows)), family = family)
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

is_primary <- function(rows, how) {
  segment <- rows$segment[1]
  unplanned <- !is.na(segment) && nrow(how$segments) > 0 &&
    !segment %in% how$segments$segment[how$segments$workload == rows$workload[1]]
  metric <- rows$metric[1]
  # sensors are recorded whether or not anybody asked, so only those named are judged
  chosen <- if (is.null(how$primary)) !metric %in% how$beside else metric %in% how$primary
  chosen && !rows$workload[1] %in% how$anchors && !unplanned
}

describe_cell <- function(rows, primary, family, questions) {
  first <- lapply(rows[c("workload", "segment", "context", "metric", "unit", "better", "scale")], `[`, 1)
  counted <- take_rows(rows[c("arm", "block", "boot", "order", "value", "seconds")], which(is_counted(rows)))
  counted$y <- to_analysis(counted$value, first$scale)
  role <- if (primary) "primary" else "exploratory"
  lump <- if (first$scale == "percent") worse_lump(counted$y, counted$arm, first$better)
  passes <- rows[c("arm", "role", "outcome")]
  c(
    list(
      lump = if (!is.null(lump)) split(lump, counted$arm), first = first, counted = counted, passes = passes,
      failures = failures_by_arm(passes), family = if (primary) family else 1, role = role
    ),
    describe_order(counted, first, role, questions)
  )
}
