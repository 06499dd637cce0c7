# From the passes of one cell to its comparisons: those in blocks all at once, others one by one.

#' The comparisons of one cell
#' @param cell From `describe_cell()`. @param sets From `compared_arms()`. @param spec As in `weigh_cells()`.
#' @return A list of parts, each a list of columns for `bind_contrasts()`.
#' @noRd
compare_cell <- function(cell, sets, spec, questions) {
  before <- cumsum(c(0, lengths(lapply(sets, `[[`, "arms"))))
  unlist(lapply(seq_along(sets), function(i) {
    set <- sets[[i]]
    set$place <- before[i] + seq_along(set$arms)
    helped <- cell$all_in_blocks && !isTRUE(spec$looks) && is.null(cell$firsts)
    set$prior <- cell$priors[[set$baseline]]
    least <- if (is.null(set$prior)) 2 else 1
    set$spread <- if (helped) spread_in_blocks(cell$means, set$arms, set$baseline, least)
    together <- set$arms %in% arms_together(cell, set)
    spec$baseline <- set$baseline
    c(
      if (any(together)) list(compare_in_blocks(set, which(together), cell, spec)),
      lapply(which(!together), compare_alone, set = set, cell = cell, spec = spec, questions = questions)
    )
  }), recursive = FALSE)
}

# those with two blocks or more that hold both
arms_together <- function(cell, set) {
  if (!cell$by_block || !set$baseline %in% colnames(cell$means)) {
    return(NULL)
  }
  arms <- intersect(set$arms, colnames(cell$means))
  arms[colSums(!is.na(cell$means[, arms, drop = FALSE] + cell$means[, set$baseline])) > 1]
}

compare_in_blocks <- function(set, which, cell, spec) {
  arms <- set$arms[which]
  both <- !is.na(cell$means[, arms, drop = FALSE] + cell$means[, set$baseline])
  twice <- cell$lay$passes[, arms, drop = FALSE] > 1 | cell$lay$passes[, set$baseline] > 1
  e <- estimate_in_blocks(cell$means, cell$lay$passes, arms, set$baseline)
  if (!is.null(cell$firsts)) {
    alpha <- family_alpha(spec$confidence, cell$family)
    e <- widen_for_firsts(e, cell$means, arms, set$baseline, cell$firsts, alpha)
  }
  found_columns(
    e, differences_in_blocks(e), set, which, cell, spec, "blocks",
    unname(ifelse(colSums(both & twice) > 0, "block", "pass")),
    rows = cell$counted, order = cell$order_of
  )
}

compare_alone <- function(set, which, cell, spec, questions) {
  arm <- set$arms[which]
  two <- take_rows(cell$counted, sort(c(cell$of_arm[[arm]], cell$of_arm[[set$baseline]])))
  posed <- prepare_contrast(two, arm, set$baseline, cell, spec, questions)
  design <- posed$design
  alpha <- family_alpha(spec$confidence, cell$family)
  # one stint per arm is weighed only where nothing else is said to have changed
  e <- if (design$kind != "stints" || spec$steady) {
    estimate(design, posed$two, arm, set$baseline, posed$stored, alpha)
  }
  if (is.null(e)) {
    why <- no_basis_code(design$why, cell$passes, spec)
    said <- break_even_code(design, two, arm, alpha, cell)
    return(contrast_columns(set, which, cell, spec, design$unit, why = list(why), said = list(said)))
  }
  d <- if (isTRUE(spec$looks)) differences(design, e, posed$two, arm, set$baseline)
  if (isTRUE(spec$looks) && (is.null(d) || d$n < 2)) {
    return(contrast_columns(set, which, cell, spec, design$unit, why = list(new_code("no_looks"))))
  }
  order <- vapply(split(posed$two$order, posed$two$arm), mean, 1)
  said <- Filter(length, list(caveat(design, posed$stored), posed$anchored))
  found_columns(
    e, d, set, which, cell, spec, design$kind, design$unit,
    rows = posed$two, order = order, said = list(said)
  )
}

#' Comparisons that have an estimate, with all that makes it less sure
#' @param e From `estimate()`. @param d From `differences()`, needed where looks are allowed for.
#' @param kind,unit Of the design. @param rows Counted passes. @param order Mean place of each arm's passes.
#' @noRd
found_columns <- function(e, d, set, which, cell, spec, kind, unit, rows, order, said = NULL) {
  arms <- set$arms[which]
  alpha <- family_alpha(spec$confidence, cell$family)
  if (isTRUE(spec$looks)) e <- estimate_looks(e, d, cell$family / (1 - spec$confidence), spec$most_units)
  if (kind == "blocks") e <- pool_variance(e, arms, set$spread, set$prior)
  if (kind == "groups" && unit == "boot" && !is.null(set$prior)) e <- moderate_boots(e, arms, set$prior)
  places <- unname(abs(order[arms] - order[[set$baseline]]))
  placed <- kind %in% c("blocks", "session") && !is.null(cell$order_finding)
  if (placed) e <- widen_for_order(e, cell$order_finding$drift, places, alpha)
  few <- few_of_pairs(rows, cell$first, arms, set$baseline)
  e[names(few$columns)] <- few$columns
  e <- bear_at_hand(lapply(e, rep_len, length(arms)), rep(alpha, length(arms)))
  waits <- looks_begin(e, if (kind == "blocks") "block" else paste0("pair of ", plural_of(unit)))
  first_only <- lapply(e$df, function(df) if (is.na(df)) new_code("too_few_mirrored"))
  why <- coalesce_codes(coalesce_codes(first_only, waits), few$why)
  needs_order <- kind %in% c("blocks", "session", "stints")
  columns <- contrast_columns(set, which, cell, spec, unit, e,
    why = why, said = if (!any(lengths(why))) said, placed = placed, order_known = !needs_order | !is.na(places)
  )
  c(columns, list(replicated = if (kind == "blocks") "block" else unit))
}

#' @param e From `new_estimate()`, `NULL` where there is no basis for one. @param why By comparison: what stands in the
#'   way of an answer, as a code, or `NULL`. @param said The same: codes of what must be told beside it.
#' @noRd
contrast_columns <- function(set, which, cell, spec, unit, e = NULL, why = NULL, said = NULL, placed = FALSE,
                             order_known = TRUE) {
  arms <- set$arms[which]
  count <- function(arm) ifelse(is.na(cell$n_of[arm]), 0L, unname(cell$n_of[arm]))
  metric <- cell$first$metric
  why <- empty_to(why, vector("list", length(arms)))
  c(cell$first, e, list(
    cell = cell$number, place = set$place[which], arm = arms, baseline = set$baseline, confidence = spec$confidence,
    worth = worth_of(metric, spec$worth), family_size = as.integer(cell$family), role = cell$role,
    unit_of_replication = unit, passes_arm = count(arms), passes_baseline = count(set$baseline),
    y_arm = unname(cell$y_of[arms]), y_baseline = unname(cell$y_of[set$baseline]), found = lengths(why) == 0,
    why = why, said = empty_to(said, vector("list", length(arms))), placed = placed, order_known = order_known
  ), if (!is.null(e)) steps_of(cell, arms, set$baseline, e$events))
}

# how coarse the readings of two arms are, by themselves and by the instrument; of counts that does not matter
steps_of <- function(cell, arms, baseline, events) {
  if (!all(is.na(events))) {
    return(list(digits = 0, step = 0))
  }
  digits <- steps_of_pairs(cell$counted$value, cell$of_arm, arms, baseline)
  both <- function(arm) cell$counted$seconds[c(cell$of_arm[[arm]], cell$of_arm[[baseline]])]
  own <- vapply(arms, function(arm) instrument_step(cell$first$metric, both(arm)), 1, USE.NAMES = FALSE)
  list(digits = digits, step = pmax(digits, own))
}

bind_contrasts <- function(parts) {
  parts <- unlist(parts, recursive = FALSE)
  if (!length(parts)) {
    return(NULL)
  }
  rows <- stack_columns(parts)
  columns_at(rows, order(rows$cell, rows$place))
}

#' Amounts that may be none and counts are known no better than how few there were allows
#' @param rows Counted passes. @return A list: `columns` for `new_estimate()`, and `why` (a code by arm, or `NULL`).
#' @noRd
few_of_pairs <- function(rows, first, arms, baseline) {
  per <- counted_per(first$metric)
  if (first$scale != "absolute") {
    NULL
  } else if (per == "no") {
    untouched_of_pairs(rows, arms, baseline)
  } else {
    of <- events_of_arms(rows, per)
    list(columns = list(
      events = unname(of$events[arms] + of$events[[baseline]]), size = unname(pmin(of$size[arms], of$size[[baseline]]))
    ))
  }
}

coalesce_codes <- function(one, other) {
  if (is.null(one) || is.null(other)) {
    return(if (is.null(one)) other else one)
  }
  ifelse(lengths(one) > 0, one, other)
}

#' What the passes of one contrast can be asked
#' @return A list: `two` (the passes, what an anchor showed taken out), `design`, `stored` (noise known from elsewhere)
#'   and `anchored` (a code, or `NULL`).
#' @noRd
prepare_contrast <- function(two, arm, baseline, cell, spec, questions) {
  design <- design_of(two, arm, baseline, cell, spec, questions)
  anchored <- if (design$kind %in% c("stints", "groups")) {
    take_anchor_out(two, cell$anchor, arm, baseline, cell$first$scale)
  }
  if (!is.null(anchored)) {
    two <- anchored$rows
    design <- recognise_design(two, arm, baseline, one_way = TRUE)
  }
  known <- list(stored = cell$stored)
  if (identical(spec$stored, "baseline") && sum(two$arm == arm) == 1 && any(two$arm == baseline)) {
    known <- baseline_noise(two, arm, baseline)
    design <- new_design("single", why = empty_to(known$why, design$why))
  }
  list(two = two, design = design, stored = known$stored, anchored = anchored$code)
}

# what would help depends on what can be done: an arm that never holds gives no reading by being run again, and
# where the old state cannot come back nobody goes back to it
no_basis_code <- function(why, passes, spec) {
  if (why$code == "no_reading") {
    own <- passes$arm == why$values$arm & passes$role == "counted" & !passes$outcome %in% not_the_arms
    if (any(own) && !any(passes$outcome[own] %in% outcomes_well)) {
      return(new_code("no_reading_failed", arm = why$values$arm, n = sum(own)))
    }
  }
  if (why$code == "one_stint" && spec$one_way) {
    return(new_code(if (length(spec$anchors)) "one_stint_anchored" else "one_stint_one_way"))
  }
  why
}

break_even_code <- function(design, two, arm, alpha, cell) {
  is_arm <- two$arm == arm
  gap <- mean(two$y[is_arm]) - mean(two$y[!is_arm])
  if (design$kind != "single" || gap == 0) {
    return(NULL)
  }
  noise <- break_even_noise(gap, c(sum(is_arm), sum(!is_arm)), alpha)
  list(new_code(
    "break_even",
    noise = to_shown(noise, cell$first$scale), scale = cell$first$scale, unit = cell$first$unit
  ))
}
