# More than one comparison, one answer: what holds over workloads, and all else that is asked of several at once.

#' What a study says beyond single comparisons
#'
#' Which arms could be the best of each workload and over all of them; the change over all workloads, for these and for
#' workloads like these; whether the change is the same in every context; and, where the values of the setting have an
#' order, the trend along them and the value from which on more brings nothing worth having. Each of these questions is
#' a family of its own.
#'
#' @param x A study, readings, or what [weigh()] returned.
#' @param ... Not used.
#' @param baseline,worth,primary,confidence As in [weigh()].
#' @param ordered Whether the values of the setting have an order; `NULL`: as the plan says.
#' @return An object of class `honestmargin_overall`, a list of data frames, `NULL` where a question does not arise:
#'   * `best`: `workload` (`NA` for all together), `segment`, `context`, `metric`, `arm`, `mean`, `could` (be the best),
#'     `by` (the arm that rules it out), `at_least` (by how much, percent or unit of the metric), `known`, `identical`;
#'   * `overall`: `metric`, `context`, `arm`, `baseline`, `workloads`, `blocks`, `change`, `lower`, `upper`, `verdict`
#'     (these workloads), `like_lower`, `like_upper`, `like_verdict` (workloads like these), `next_lower`, `next_upper`
#'     (one more workload; of others nothing is said below three), `p_differ`, `differ` (`yes` where the workloads
#'     disagree), `alone` (list: the change of each workload);
#'   * `contexts`: `workload`, `segment`, `metric`, `arm`, `baseline`, `context`, `other`, `change` (in `other` less in
#'     `context`), `lower`, `upper`, `verdict`, `same_blocks`;
#'   * `trend`: `workload`, `segment`, `context`, `metric`, `change`, `lower`, `upper` (per `step`), `verdict`;
#'   * `plateau`: `workload`, `segment`, `context`, `metric`, `from` (lowest value that is as good as all above),
#'     `fails` (the next one down), `bound`, `against`;
#'   * `left_out`: what a limiter hides.
#' @section Errors: as [weigh()].
#' @references Hsu (1981), Annals of Statistics 9, 1026-1034; Higgins, Thompson and Spiegelhalter (2009), Journal of the
#'   Royal Statistical Society A 172, 137-159.
#' @export
#' @examples
#' weigh_overall(read_study(demo_study()))
weigh_overall <- function(x, ..., baseline = NULL, worth = NULL, primary = NULL, confidence = NULL, ordered = NULL) {
  assert_no_dots(...)
  checkmate::assert_flag(ordered, null.ok = TRUE)
  asked <- list(baseline = baseline, worth = worth, primary = primary, confidence = confidence)
  declared <- list()
  if (inherits(x, "honestmargin_verdicts")) {
    asked <- utils::modifyList(asked_of_verdicts(x), Filter(length, asked))
    declared <- declared_of_verdicts(x)
    x <- what_was_weighed(x)
  }
  plan <- if (is_study(x)) x$plan
  readings <- readings_of(x, asked$primary)
  how <- how_to_weigh(x, plan, readings, asked, declared)
  cells <- overall_cells(rescale_nonpositive(readings), how)
  held <- vapply(cells, is_held, NA, how = how)
  free <- cells[!held]
  structure(
    list(
      best = if (length(how$arms) > 2) best_of_cells(free, how), overall = overall_of_cells(free, how),
      contexts = contexts_of_cells(free, how),
      trend = if (has_order(plan, ordered)) trend_of_cells(free, how),
      plateau = if (has_order(plan, ordered)) plateau_of_cells(free, how),
      left_out = if (any(held)) stack_rows(lapply(cells[held], function(cell) as.data.frame(place_of(cell))))
    ),
    class = "honestmargin_overall", failed = failed_arms(x), labels = plan_labels(plan), confidence = how$confidence,
    looks = is_study(x) && looked_at(x)
  )
}

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
    attr(verdicts, "how")[c("steady", "noise", "no_limiter", "against", "setting_limits")],
    list(looks = isTRUE(attr(verdicts, "looks")))
  )
}

has_order <- function(plan, ordered) empty_to(ordered, isTRUE(plan$setting$ordered))

cells_by <- function(cells, columns) {
  key <- vapply(cells, function(cell) paste(unlist(place_of(cell)[columns]), collapse = "\r"), "")
  split(cells, factor(key, unique(key)))
}

# the cells that are judged: primary metrics, whole passes where there are any
overall_cells <- function(readings, how) {
  rows <- plain_table(readings)
  rows <- rows[is_counted(rows) & rows$better != "none" & !rows$workload %in% how$anchors, , drop = FALSE]
  whole <- unique(rows$workload[is.na(rows$segment)])
  rows <- rows[is.na(rows$segment) | !rows$workload %in% whole, , drop = FALSE]
  rows <- rows[if (is.null(how$primary)) !rows$metric %in% how$beside else rows$metric %in% how$primary, , drop = FALSE]
  at <- split_in_order(seq_len(nrow(rows)), rows$workload, rows$segment, rows$context, rows$metric)
  lapply(at, function(i) {
    cell <- take_rows(rows, i)
    cell$y <- to_analysis(cell$value, cell$scale[1])
    cell
  })
}

place_of <- function(cell) lapply(cell[c("workload", "segment", "context", "metric", "unit", "scale")], `[`, 1)

# does a limiter hide this metric of any two arms here?
is_held <- function(cell, how) {
  arms <- intersect(how$arms, cell$arm)
  value <- vapply(arms, function(a) mean(cell$value[cell$arm == a]), 1)
  any(vapply(arms, function(a) {
    row <- c(place_of(cell), list(arm = a, baseline = a, arm_value = value[[a]], baseline_value = value[[a]]))
    any(held_sides(row, how$ceilings)$touched)
  }, NA))
}

overall_of_cells <- function(cells, how) {
  groups <- Filter(function(g) length(g) > 1, cells_by(cells, c("metric", "context")))
  arms <- setdiff(how$arms, how$baseline)
  alpha <- family_alpha(how$confidence, max(1, length(groups) * length(arms)))
  stack_rows(lapply(groups, function(group) {
    means <- lapply(group, block_matrix, arms = how$arms)
    stack_rows(lapply(arms, function(arm) overall_row(group, means, arm, how, alpha)))
  }))
}

#' @param means Of each cell of the group, from `block_matrix()`.
#' @noRd
overall_row <- function(group, means, arm, how, alpha) {
  there <- vapply(group, function(cell) all(c(arm, how$baseline) %in% cell$arm), NA)
  group <- group[there]
  d <- differences_by_block(means[there], arm, how$baseline)
  if (is.null(d)) d <- Filter(length, lapply(group, one_change, arm = arm, baseline = how$baseline))
  k <- if (is.matrix(d)) ncol(d) else length(d)
  if (k < 2) {
    return(NULL)
  }
  found <- overall_change(d, alpha)
  place <- place_of(group[[1]])
  worth <- worth_of(place$metric, how$worth)
  # of two workloads nothing can be said of others
  if (k < 3) found[c("like", "next_one")] <- NA_real_
  ends <- function(half) to_shown(found$change + c(-1, 1) * half, place$scale)
  word <- function(half) {
    range <- ends(half)
    if (is.na(half)) "no basis" else verdict_word(range[1], range[2], group[[1]]$better[1], worth)
  }
  list2DF(list(
    metric = place$metric, context = place$context, unit = place$unit, scale = place$scale, arm = arm,
    baseline = how$baseline, workloads = k, blocks = found$blocks, change = to_shown(found$change, place$scale),
    lower = ends(found$these)[1], upper = ends(found$these)[2], verdict = word(found$these),
    like_lower = ends(found$like)[1], like_upper = ends(found$like)[2], like_verdict = word(found$like),
    next_lower = ends(found$next_one)[1], next_upper = ends(found$next_one)[2], p_differ = found$p_differ,
    differ = c("no", "yes")[1 + (found$p_differ < 1 - how$confidence)], worth = worth,
    alone = list(list2DF(list(
      workload = vapply(group, function(cell) place_names(list2DF(place_of(cell))), "", USE.NAMES = FALSE)[seq_len(k)],
      change = to_shown(unname(found$workloads), place$scale)
    )))
  ))
}

# blocks in which every workload ran with both arms; `NULL` where there are no two of them
differences_by_block <- function(means, arm, baseline) {
  each <- lapply(means, function(m) if (!is.null(m)) m[, arm] - m[, baseline])
  if (any(lengths(each) == 0)) {
    return(NULL)
  }
  blocks <- Reduce(intersect, lapply(each, function(d) names(d)[!is.na(d)]))
  if (length(blocks) > 1) vapply(each, function(d) d[blocks], numeric(length(blocks)))
}
