# Is the change the same in every context?

contexts_of_cells <- function(cells, how) {
  groups <- Filter(function(g) length(g) > 1, cells_by(cells, c("workload", "segment", "metric")))
  arms <- setdiff(how$arms, how$baseline)
  pairs <- lapply(groups, function(g) utils::combn(length(g), 2, simplify = FALSE))
  alpha <- family_alpha(how$confidence, max(1, sum(lengths(pairs)) * length(arms)))
  stack_rows(Map(function(group, pairs) {
    stack_rows(lapply(pairs, function(at) {
      stack_rows(lapply(arms, function(arm) context_row(group[[at[1]]], group[[at[2]]], arm, how, alpha)))
    }))
  }, groups, pairs))
}

context_row <- function(one, other, arm, how, alpha) {
  two <- c(arm, how$baseline)
  if (!all(two %in% one$arm) || !all(two %in% other$arm)) {
    return(NULL)
  }
  only <- function(cell) take_rows(cell, which(cell$arm %in% two))
  found <- change_between(only(one), only(other), arm, how$baseline)
  place <- place_of(one)
  worth <- worth_of(place$metric, how$worth)
  range <- to_shown(found$estimate + c(-1, 1) * t_reach(alpha, found$df) * found$se, place$scale)
  data.frame(
    as.data.frame(place)[c("workload", "segment", "metric", "unit", "scale")], arm = arm, baseline = how$baseline,
    context = place$context, other = other$context[1], change = to_shown(found$estimate, place$scale),
    lower = range[1], upper = range[2], worth = worth,
    verdict = if (is.na(range[1])) "no basis" else verdict_word(range[1], range[2], one$better[1], worth),
    same_blocks = found$same_blocks
  )
}
