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
#'   `most_units` (how many units a study that is looked at may come to, or `NULL`).
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
  rows <- vector("list", length(cells))
  findings <- list()
  for (i in seq_along(cells)) {
    cell <- describe_cell(cells[[i]], primary[[i]], family, questions)
    cell$anchor <- anchor_passes(table, cell$first, how$anchors)
    cell$stored <- if (is.data.frame(how$stored)) stored_noise(how$stored, cell$first)
    sets <- lapply(compared[[i]], weigh_set, cell = cell, how = how, questions = questions)
    # a context may have no pair at all
    rows[i] <- list(unlist(sets, recursive = FALSE))
    findings[i] <- list(graver_where_blocked(cell$order_finding, rows[[i]]))
  }
  rows <- unlist(rows, recursive = FALSE)
  if (!length(rows)) {
    return(list(family = family))
  }
  list(verdicts = verdict_table(rows), findings = order_findings(findings), family = family)
}

# arms that are compared with one and the same
weigh_set <- function(set, cell, how, questions) {
  how$baseline <- set$baseline
  cell$spread <- if (!isTRUE(how$looks)) spread_of_cell(cell$counted, set)
  lapply(set$arms, weigh_one, cell = cell, how = how, questions = questions)
}

# a drift blocks where it may be all of the change
graver_where_blocked <- function(found, rows) {
  blocked <- any(vapply(rows, function(row) any(code_names(row$codes) == "order_drift"), NA))
  if (!is.null(found) && blocked) found$severity <- "blocking"
  found
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

weigh_one <- function(arm, cell, how, questions) {
  at <- c(cell$of_arm[[arm]], cell$of_arm[[how$baseline]])
  two <- take_rows(cell$counted, if (cell$crossed) at else sort(at))
  row <- blank_row(cell, two, arm, how)
  posed <- pose_question(two, row, cell, how, questions)
  design <- posed$design
  found <- answer_question(posed, row, cell, how)
  row$unit_of_replication <- design$unit
  failed <- if (!is.null(cell$failures)) failure_codes(cell$failures, c(arm, how$baseline))
  if (is.null(found)) {
    why <- no_basis_code(design$why, cell$passes, how)
    # that an arm never held is an answer
    if (why$code == "no_reading_failed" && why$values$arm == arm) row$verdict <- "does not hold"
    row$codes <- c(list(why), break_even_code(design, row, two), failed)
    return(row)
  }
  if (!is.null(found$why)) {
    row$codes <- c(list(found$why), failed)
    return(row)
  }
  placed <- if (design$kind %in% c("blocks", "session")) cell$order_finding
  if (!is.null(placed)) {
    found <- widen_for_order(
      found, placed$drift, posed$two, arm, how$baseline, family_alpha(row$confidence, cell$family)
    )
  }
  row <- fill_estimate(row, found, cell$family, posed$two)
  row <- decide(row, found, cell$family, how$ceilings)
  if (!is.null(placed)) row <- tell_order(row, placed$code, found$moved, found$estimate)
  if (anyNA(posed$two$order) && design$kind %in% c("blocks", "session", "stints")) row <- tell_unknown_order(row)
  row <- tell_lump(row, cell$lump, arm, how$baseline, isTRUE(how$looks))
  row$codes <- c(row$codes, Filter(length, list(caveat(design, posed$stored), posed$anchored)), failed)
  if (row$verdict == "negligible") row$codes <- c(row$codes, list(rare_unseen(row)))
  row$verdict <- unasked_word(row$verdict, row$role)
  row
}

# that the means are alike says nothing of what happens in one pass of many
rare_unseen <- function(row) new_code("rare_unseen", share = 100 * possible_share(0, row$n_arm)$upper)


#' What the passes of one contrast can be asked
#' @return A list: `two` (the passes, what an anchor showed taken out), `design`, `stored` (noise known from elsewhere)
#'   and `anchored` (a code, or `NULL`).
#' @noRd
pose_question <- function(two, row, cell, how, questions) {
  arm <- row$arm
  baseline <- how$baseline
  design <- if (cell$crossed && row$n_arm && row$n_baseline) {
    new_design("blocks", if (cell$repeated) "block" else "pass", by = two$block)
  } else {
    design_of(two, arm, baseline, cell, how, questions)
  }
  anchored <- if (design$kind %in% c("stints", "groups")) {
    take_anchor_out(two, cell$anchor, arm, baseline, cell$first$scale)
  }
  if (!is.null(anchored)) {
    two <- anchored$rows
    design <- recognise_design(two, arm, baseline, one_way = TRUE)
  }
  known <- list(stored = cell$stored)
  if (identical(how$stored, "baseline") && row$n_arm == 1 && row$n_baseline > 0) {
    known <- baseline_noise(two, arm, baseline)
    design <- new_design("single", why = empty_to(known$why, design$why))
  }
  list(two = two, design = design, stored = known$stored, anchored = anchored$code)
}

# the estimate at the level of its family, as wide as few events make it
answer_question <- function(posed, row, cell, how) {
  if (posed$design$kind == "stints" && !how$steady) {
    return(NULL)
  }
  found <- estimate(posed$design, posed$two, row$arm, how$baseline, posed$stored)
  alpha <- family_alpha(row$confidence, cell$family)
  if (!is.null(found) && isTRUE(how$looks)) {
    found <- allow_looks(found, posed, row, cell$family, how$baseline, how$most_units)
    if (!is.null(found$why)) {
      return(found)
    }
  }
  if (!is.null(found$at_level)) found <- found$at_level(alpha)
  if (posed$design$kind == "blocks") found <- with_help(found, cell$spread, row$arm, alpha)
  if (is.null(found)) found else bear_few(found, posed$two, row, cell, how$baseline, alpha)
}

# amounts that may be none and counts are known no better than how few there were allows
bear_few <- function(found, two, row, cell, baseline, alpha) {
  if (may_be_none(cell$first, two)) found <- bear_untouched(found, two, row$arm, baseline, alpha)
  per <- counted_per(cell$first$metric)
  if (!is.null(found$why) || per == "no" || cell$first$scale != "absolute") {
    return(found)
  }
  with_count_floor(found, two, row$arm, baseline, per, alpha)
}

# as `estimate()`, or a list `why` where looking can settle nothing (yet)
allow_looks <- function(found, posed, row, family, baseline, most) {
  wanted <- family / (1 - row$confidence)
  found <- estimate_looks(found, differences(posed$design, posed$two, row$arm, baseline), wanted)
  if (is.null(found)) {
    return(list(why = new_code("no_looks")))
  }
  if (is.finite(found$crit)) {
    found$most <- most
    return(found)
  }
  unit <- if (posed$design$kind == "blocks") "block" else paste0("pair of ", plural_of(posed$design$unit))
  list(why = new_code("looks_begin", n = first_look(wanted), have = found$units, unit = unit))
}

# a mean over two lumps has no answer that more of the same passes would settle soon: passes in the worse lump are
# what can be counted
tell_lump <- function(row, lump, arm, baseline, looks) {
  if (is.null(lump) || row$verdict != "unclear" || !any(lump[[arm]], lump[[baseline]])) {
    return(row)
  }
  x <- c(sum(lump[[arm]]), sum(lump[[baseline]]))
  n <- c(length(lump[[arm]]), length(lump[[baseline]]))
  row$codes <- c(list(new_code("two_lumps", arm = arm, baseline = baseline, low = x, of = n)), row$codes)
  row$more_passes <- passes_to_answer(
    x[1], n[1], x[2], n[2], family_alpha(row$confidence, row$family_size), NA_real_, looks
  )
  row
}

# what would help depends on what can be done: an arm that never holds gives no reading by being run again, and
# where the old state cannot come back nobody goes back to it
no_basis_code <- function(why, passes, how) {
  if (why$code == "no_reading") {
    own <- passes[passes$arm == why$values$arm & passes$role == "counted", , drop = FALSE]
    own <- own[!own$outcome %in% not_the_arms, , drop = FALSE]
    if (nrow(own) && !any(own$outcome %in% outcomes_well)) {
      return(new_code("no_reading_failed", arm = why$values$arm, n = nrow(own)))
    }
  }
  if (why$code == "one_stint" && how$one_way) {
    return(new_code(if (length(how$anchors)) "one_stint_anchored" else "one_stint_one_way"))
  }
  why
}

blank_row <- function(cell, two, arm, how) {
  first <- cell$first
  worth <- worth_of(first$metric, how$worth)
  list(
    workload = first$workload, segment = first$segment, context = first$context, metric = first$metric,
    unit = first$unit,
    better = first$better, arm = arm, baseline = how$baseline,
    n_arm = sum(two$arm == arm), n_baseline = sum(two$arm == how$baseline),
    baseline_value = centre(two, how$baseline, first$scale), arm_value = centre(two, arm, first$scale),
    scale = first$scale, change = raw_change(two, arm, how$baseline, first$scale), lower = NA_real_, upper = NA_real_,
    confidence = how$confidence, differs = NA_character_, verdict = "no basis",
    codes = list(), worth = worth, ruled_out = NA_real_, noise = NA_real_, detectable = NA_real_,
    more_passes = NA_real_, p_value = NA_real_, p_adjusted = NA_real_,
    unit_of_replication = NA_character_, family_size = as.integer(cell$family), role = cell$role
  )
}

# what was measured, whether or not anything can be said of it
raw_change <- function(two, arm, baseline, scale) {
  is_arm <- two$arm == arm
  if (any(is_arm) && any(!is_arm)) to_shown(mean(two$y[is_arm]) - mean(two$y[!is_arm]), scale) else NA_real_
}

break_even_code <- function(design, row, two) {
  if (design$kind != "single" || isTRUE(row$change == 0)) {
    return(NULL)
  }
  is_arm <- two$arm == row$arm
  gap <- mean(two$y[is_arm]) - mean(two$y[!is_arm])
  alpha <- family_alpha(row$confidence, row$family_size)
  noise <- break_even_noise(gap, c(sum(is_arm), sum(!is_arm)), alpha)
  list(new_code("break_even", noise = to_shown(noise, row$scale), scale = row$scale, unit = row$unit))
}

centre <- function(two, arm, scale) {
  y <- two$y[two$arm == arm]
  if (!length(y)) {
    return(NA_real_)
  }
  if (scale == "percent") exp(mean(y)) else mean(y)
}
