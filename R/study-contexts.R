# Is the change the same in every context?

contexts_of_cells <- function(cells, spec) {
  groups <- Filter(function(g) length(g) > 1, cells_by(cells, c("workload", "segment", "metric")))
  arms <- setdiff(spec$arms, spec$baseline)
  pairs <- lapply(groups, function(g) utils::combn(length(g), 2, simplify = FALSE))
  alpha <- family_alpha(spec$confidence, max(1, sum(lengths(pairs)) * length(arms)))
  against <- function(here) list(list(baseline = spec$baseline, arms = setdiff(here, spec$baseline)))
  all <- unlist(groups, recursive = FALSE)
  cells <- described_with_priors(all, spec, against)
  two <- unlist(Map(function(pairs, before) lapply(pairs, `+`, before), pairs, cumsum(c(0, lengths(groups)))[
    seq_along(groups)
  ]), recursive = FALSE)
  gaps <- lapply(two, function(at) context_gap(all[[at[1]]], all[[at[2]]], spec$arms, cells[at]))
  known <- which(lengths(gaps) > 0)
  # of three contexts each pair hangs together with the others
  if (!spec$own_noise && !isTRUE(spec$looks) && all(lengths(groups) == 2)) {
    gaps[known] <- with_priors(gaps[known], rep(list(against(spec$arms)), length(known)))
  }
  stack_rows(Map(function(at, gap) {
    stack_rows(lapply(arms, function(arm) context_row(all[at], arm, spec, alpha, gap, cells[at])))
  }, two, gaps))
}

# by how much the change of one cell may be off for want of digits, on the scale of analysis
coarse_change <- function(cell, arm, baseline) {
  is_arm <- cell$arm == arm
  spread <- c(stats::var(cell$y[is_arm]), stats::var(cell$y[!is_arm]))
  step <- max(resolution(cell$value), instrument_step(cell$metric[1], cell$seconds))
  about <- list(mean_arm = mean(cell$y[is_arm]), mean_baseline = mean(cell$y[!is_arm]), sd = sqrt(mean(spread)))
  if (anyNA(about$sd)) 0 else rounding_error(step, about, cell$scale[1])
}

#' @param two Cells of two contexts. @param gap,cells As in `change_between()`.
#' @noRd
context_row <- function(two, arm, spec, alpha, gap, cells) {
  one <- two[[1]]
  other <- two[[2]]
  pair <- c(arm, spec$baseline)
  if (!all(pair %in% one$arm) || !all(pair %in% other$arm)) {
    return(NULL)
  }
  only <- function(cell) take_rows(cell, which(cell$arm %in% pair))
  found <- change_between(one, other, arm, spec$baseline, gap, cells)
  place <- place_of(one)
  worth <- worth_of(place$metric, spec$worth)
  # what rounding does to the means of either change, where passes vary by too little to average it out
  coarse <- sum(vapply(list(only(one), only(other)), coarse_change, 1, arm = arm, baseline = spec$baseline))
  half <- t_reach(alpha, found$df) * found$se + coarse
  range <- interval_about(found$estimate, half, function(y) to_shown(y, place$scale))
  data.frame(
    as.data.frame(place)[c("workload", "segment", "metric", "unit", "scale")], arm = arm, baseline = spec$baseline,
    context = place$context, other = other$context[1], change = to_shown(found$estimate, place$scale),
    lower = range$lower, upper = range$upper, worth = worth,
    verdict = if (is.na(half)) "no basis" else verdict_word(range$lower, range$upper, one$better[1], worth),
    same_blocks = found$same_blocks
  )
}
