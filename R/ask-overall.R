# The question: what a study says beyond single comparisons.

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
#' @return An answer ([ask_study()]), a list of data frames, `NULL` where a question does not arise:
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
  spec <- contrast_spec(x, plan, readings, asked, declared)
  cells <- overall_cells(rescale_nonpositive(readings), spec)
  held <- vapply(cells, is_held, NA, spec = spec)
  free <- cells[!held]
  new_answer(
    "overall", list(
      best = if (length(spec$arms) > 2) best_of_cells(free, spec), overall = overall_of_cells(free, spec),
      contexts = contexts_of_cells(free, spec),
      trend = if (has_order(plan, ordered)) trend_of_cells(free, spec),
      plateau = if (has_order(plan, ordered)) plateau_of_cells(free, spec),
      left_out = if (any(held)) stack_rows(lapply(cells[held], function(cell) as.data.frame(place_of(cell))))
    ), if (is_study(x)) x else readings,
    failed = failed_arms(x), confidence = spec$confidence, looks = is_study(x) && looked_at(x)
  )
}

has_order <- function(plan, ordered) empty_to(ordered, isTRUE(plan$setting$ordered))

overall_of_cells <- function(cells, spec) {
  groups <- Filter(function(g) length(g) > 1, cells_by(cells, c("metric", "context")))
  arms <- setdiff(spec$arms, spec$baseline)
  alpha <- family_alpha(spec$confidence, max(1, length(groups) * length(arms)))
  stack_rows(lapply(groups, function(group) {
    means <- lapply(group, block_matrix, arms = spec$arms)
    stack_rows(lapply(arms, function(arm) overall_row(group, means, arm, spec, alpha)))
  }))
}

#' @param means Of each cell of the group, from `block_matrix()`.
#' @noRd
overall_row <- function(group, means, arm, spec, alpha) {
  there <- vapply(group, function(cell) all(c(arm, spec$baseline) %in% cell$arm), NA)
  group <- group[there]
  d <- differences_by_block(means[there], arm, spec$baseline)
  if (is.null(d)) d <- Filter(length, lapply(group, one_change, arm = arm, baseline = spec$baseline))
  k <- if (is.matrix(d)) ncol(d) else length(d)
  if (k < 2) {
    return(NULL)
  }
  found <- overall_change(d, alpha)
  place <- place_of(group[[1]])
  worth <- worth_of(place$metric, spec$worth)
  # of two workloads nothing can be said of others
  if (k < 3) found[c("like", "next_one")] <- NA_real_
  ends <- lapply(found[c("these", "like", "next_one")], function(half) {
    interval_about(found$change, half, function(y) to_shown(y, place$scale))
  })
  word <- function(range) {
    if (is.na(range$lower)) "no basis" else verdict_word(range$lower, range$upper, group[[1]]$better[1], worth)
  }
  list2DF(list(
    metric = place$metric, context = place$context, unit = place$unit, scale = place$scale, arm = arm,
    baseline = spec$baseline, workloads = k, blocks = found$blocks, change = to_shown(found$change, place$scale),
    lower = ends$these$lower, upper = ends$these$upper, verdict = word(ends$these),
    like_lower = ends$like$lower, like_upper = ends$like$upper, like_verdict = word(ends$like),
    next_lower = ends$next_one$lower, next_upper = ends$next_one$upper, p_differ = found$p_differ,
    differ = c("no", "yes")[1 + (found$p_differ < 1 - spec$confidence)], worth = worth,
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

#' @param x From `weigh_overall()`.
#' @return A named list of character vectors, one element a question that arises.
#' @noRd
overall_words <- function(x) {
  labels <- labels_of(x)
  said <- Filter(length, list(
    `Failed` = failed_arm_sentences(attr(x, "failed"), labels),
    `Which could be best` = best_words(x$best, labels, attr(x, "failed")), `Over all workloads` = unlist(lapply(
      each_row(x$overall), overall_sentence,
      labels = labels
    )),
    `The same in every context` = unlist(lapply(each_row(x$contexts), context_sentence, labels = labels)),
    `Along the setting` = c(
      unlist(lapply(each_row(x$trend), trend_sentence, labels = labels)),
      unlist(lapply(each_row(x$plateau), plateau_sentence, labels = labels))
    ),
    `Left out` = if (NROW(x$left_out)) {
      held <- paste(overall_place(x$left_out, labels), collapse = "; ")
      paste0(held, words_of_ceiling)
    }
  ))
  if (length(said)) {
    return(said)
  }
  "Nothing beyond single comparisons: it takes three arms, two workloads, two contexts or ordered values."
}

words_of_ceiling <- ": limited, which hides any difference"

overall_place <- function(rows, labels) {
  place <- ifelse(is.na(rows$workload), "all workloads together", place_names(rows))
  paste0(place, ", ", metric_labels(rows$metric, labels))
}

best_words <- function(best, labels, failed) {
  if (is.null(best)) {
    return(NULL)
  }
  place <- overall_place(best, labels)
  vapply(split(best, factor(place, unique(place))), function(set) {
    paste0(overall_place(set[1, ], labels), ": ", best_set_words(set, labels, failed), ".")
  }, "", USE.NAMES = FALSE)
}

best_set_words <- function(set, labels, failed) {
  if (all(set$identical)) {
    return("all results are identical")
  }
  if (!any(set$known)) {
    return("these passes cannot tell arms apart")
  }
  out <- set[!set$could, , drop = FALSE]
  if (!nrow(out)) {
    return(paste0("any of ", list_words(arms_with_failures(set$arm, labels, failed, TRUE)),
      " could be (nothing is ruled out)"))
  }
  behind <- vapply(seq_len(nrow(out)), function(i) {
    by <- show_change(out$at_least[i], out$scale[i], out$unit[i])
    behind <- arms_with_failures(out$by[i], labels, failed, TRUE)
    paste0(arm_names(out$arm[i], labels), " is not: at least ", sub("^[+]", "", by), " behind ", behind)
  }, "")
  left <- set$arm[set$could]
  paste0(list_words(arms_with_failures(left, labels, failed, TRUE)), if (length(left) > 1) " could be; " else "; ",
    paste(behind, collapse = ", "))
}

range_of <- function(row, lower, upper) {
  shown_interval(data.frame(lower = row[[lower]], upper = row[[upper]], scale = row$scale, unit = row$unit))
}

overall_sentence <- function(row, labels) {
  about <- paste0(
    if (!is.na(row$context)) paste0(row$context, ", "), metric_labels(row$metric, labels), ", ",
    arm_names(row$arm, labels), " against ", arm_names(row$baseline, labels), ": "
  )
  alone <- row$alone[[1]]
  each <- paste0(alone$workload, " ", show_change(alone$change, row$scale, row$unit), collapse = ", ")
  these <- if (!is.na(row$lower)) paste0(" (", range_of(row, "lower", "upper"), ")")
  if (is.na(row$lower)) {
    return(paste0(
      about, "in these ", row$workloads, " workloads ", shown_change(row), " was measured, with no basis for more: ",
      "one pass of each, or one stint of each arm, does not show the noise that workloads share (", each, ")."
    ))
  }
  paste0(
    about, if (row$differ %in% "yes") paste0("the workloads disagree (", each, "); "),
    "in these ", row$workloads, " workloads ", shown_change(row), these, ", ",
    plain_answers[[row$verdict]],
    if (is.na(row$like_lower)) {
      "; two workloads are too few to generalise"
    } else {
      paste0(
        "; in workloads like these ", range_of(row, "like_lower", "like_upper"), ", ",
        plain_answers[[row$like_verdict]],
        "; one more may lie at ", range_of(row, "next_lower", "next_upper")
      )
    },
    if (is.na(row$blocks)) "; noise that workloads share is assumed to be none", "."
  )
}

context_sentence <- function(row, labels) {
  if (is.na(row$lower)) {
    return(paste0(
      overall_place(row[c("workload", "segment", "metric")], labels), ", ", arm_names(row$arm, labels), " against ",
      arm_names(row$baseline, labels), ": the change in ", row$other, " was ", shown_change(row), " from that in ",
      row$context, "; no basis to tell whether it is the same."
    ))
  }
  paste0(
    overall_place(row[c("workload", "segment", "metric")], labels), ", ", arm_names(row$arm, labels), " against ",
    arm_names(row$baseline, labels), ": the change in ", row$other, " is ",
    shown_change(row), " (", range_of(row, "lower", "upper"), ") from that in ", row$context,
    ", ", switch(row$verdict,
      negligible = "no difference worth having", unclear = "cannot tell whether it is the same", "it is not the same"
    ), "."
  )
}

#' What the intervals hold for
#' @noRd
overall_footing <- function(x) {
  if (!length(unlist(x[attr(x, "columns")], recursive = FALSE))) {
    return(NULL)
  }
  paste0(
    "Each question is a family of its own, at ", show_share(attr(x, "confidence")), ".",
    if (isTRUE(attr(x, "looks"))) " The study was looked at on the way, which these answers do not allow for."
  )
}

overall_line <- function(x) {
  labels <- labels_of(x)
  set <- x$best
  if (NROW(set)) {
    could <- set$arm[set$could]
    everywhere <- Filter(function(arm) all(set$could[set$arm == arm]), unique(could))
    if (length(everywhere)) {
      arms <- list_words(arms_with_failures(everywhere, labels, attr(x, "failed"), TRUE))
      return(paste(arms, "could be best everywhere"))
    }
    return("no arm could be best everywhere")
  }
  rows <- rbind(x$overall["verdict"], x$contexts["verdict"])
  if (NROW(rows)) paste(names(table(rows$verdict)), "in", table(rows$verdict), collapse = ", ")
}

#' Its questions below one another
#' @noRd
overall_tidy <- function(x) {
  parts <- Filter(NROW, unclass(x)[c("best", "overall", "contexts", "trend", "plateau")])
  columns <- unique(unlist(lapply(parts, names)))
  stack_rows(lapply(names(parts), function(name) {
    part <- plain_table(parts[[name]])
    # the change of each workload is a table of its own
    part$alone <- NULL
    part[setdiff(columns, c(names(part), "alone"))] <- NA
    cbind(question = name, part[setdiff(columns, "alone")])
  }))
}

register("question", "overall",
  rank = 1, title = "Beyond single comparisons",
  about = "which arms could be best, and what holds over all workloads and contexts",
  answer = weigh_overall, takes = c("baseline", "worth", "primary", "confidence"),
  own = list(ordered = list(help = "the values of the setting have an order", read = function(given) if (given) TRUE)),
  lines = overall_words, line = overall_line, footing = overall_footing, tidy = overall_tidy, figure = "overall",
  report = function(verdicts) {
    found <- if (judges_numbers(verdicts)) weigh_overall(verdicts)
    if (length(found) && is.list(overall_words(found))) found
  }
)
