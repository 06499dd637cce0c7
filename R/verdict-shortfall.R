# Where a plan would not see what is worth seeing, and what would help most.

#' What a plan falls short of
#'
#' @param plan A checked plan. @param power From `plan_power()`.
#' @return Findings, one per metric whose detectable change is larger than its worth, with what each remedy alone would
#'   make of it: `blocks` needed, `one_metric` and `two_arms` (detectable change then), `noise` (of a pass, at most).
#' @noRd
plan_shortfall <- function(plan, power) {
  short <- power[which(power$worth > 0 & power$detectable > power$worth & is.finite(power$noise)), , drop = FALSE]
  arms <- length(plan_arms(plan))
  metrics <- nrow(power)
  do.call(bind_findings, lapply(seq_len(nrow(short)), function(i) {
    row <- short[i, ]
    # in units of the standard error, everything else being as planned
    reach <- function(contrasts, family) {
      alpha <- family_alpha(plan$confidence, family)
      df <- planned_df(contrasts, plan$blocks)
      cost_of_limits(contrasts, plan$blocks, alpha) * detectable_effect(1, df, t_quantile(df, alpha))
    }
    if (plan$setting$one_way) reach <- function(contrasts, family) NA_real_
    now <- reach(arms - 1, row$family_size)
    other <- function(contrasts, family) row$detectable * reach(contrasts, family) / now
    new_finding("warning", "falls_short",
      metric = row$metric, blocks = plan$blocks, detectable = row$detectable, worth = row$worth,
      needed = row$blocks_for_worth, metrics = metrics, arms = arms, scale = row$scale,
      one_metric = if (metrics > 1) other(arms - 1, planned_family(plan, row$metric)) else NA_real_,
      two_arms = if (arms > 2) other(1, planned_family(plan, power$metric, 2)) else NA_real_,
      noise = row$noise * row$worth / row$detectable, id = row$metric
    )
  }))
}
