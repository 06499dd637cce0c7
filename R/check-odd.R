# One pass far from the others of its arm: an outlier is shown, never taken out.

#' How surely each pass is an outlier
#'
#' Each is held against what all others say of its arm and its block, in widths of their noise.
#' @param y Values on the scale of analysis. @param arm,block Of each; `block` may be `NA`.
#' @return A list: `away` (how many noise widths each lies away), `p` (two-sided, of one pass looked at alone); `NA`
#'   where nothing can be said.
#' @references Cook and Weisberg (1982), Residuals and Influence in Regression, chapter 2.
#' @noRd
outlying <- function(y, arm, block) {
  n <- length(y)
  model <- additive_model(arm, if (!anyNA(block)) block)
  left <- model$left(y)
  leverage <- model$leverage()
  df <- n - model$rank
  away <- rep(NA_real_, n)
  noise <- sum(left^2)
  # a pass that is alone in its arm or block has no other passes; and without any noise nothing is a width
  able <- which(leverage <= 0.999)
  if (df > 3 && sqrt(noise / df) > 1e-12 * max(abs(y))) {
    # what the noise would be without this pass
    others <- (noise - left[able]^2 / (1 - leverage[able])) / (df - 1)
    away[able] <- abs(left[able]) / sqrt(pmax(others, 0) * (1 - leverage[able]))
    away[!is.finite(away)] <- NA
  }
  list(away = away, p = 2 * stats::pt(-away, max(df - 1, 1)))
}

# counted readings of what is judged
judged_readings <- function(study) {
  rows <- plain_table(study$readings)
  amounts(rows[rows$metric %in% plan_primary(study$plan) & is_counted(rows), , drop = FALSE])
}

# how few events there were says how far a count may lie from others, and a pass with many is no outlier
amounts <- function(rows) {
  metrics <- unique(rows$metric)
  rows[rows$metric %in% metrics[vapply(metrics, counted_per, "") == "no"], , drop = FALSE]
}

# on the scale of analysis; what is told in percent but has no logarithm stays as it is
analysed_values <- function(here) to_analysis(here$value, if (all(here$value > 0)) here$scale[1] else "absolute")

# of two passes that are alone in their block one is as far from the other as the other from it: the one that is far
# from its own arm too is meant
apart_from_its_block <- function(odd, away, off_arm, block) {
  twin <- vapply(odd, function(i) {
    others <- setdiff(odd[block[odd] %in% block[i] & !is.na(block[i])], i)
    any(abs(away[others] / away[i] - 1) < 1e-6 & off_arm[others] > off_arm[i])
  }, NA)
  odd[!twin]
}

# An arm that is held at a limit hardly varies, and is no measure of what passes of the others do ("77 times the noise
# away" was said of one 4.8 % off). By median distances, which one odd pass does not move.
quiet_arms <- function(rows) {
  key <- cell_key(rows)
  spread <- stats::ave(rows$value, key, rows$arm, FUN = stats::mad)
  spread < stats::ave(spread, key, FUN = max) / 10
}

#' Passes that are far from the other passes, as findings
#' @param rows Counted readings of what is judged. @param share What single frames jump by where their times are coarse,
#'   as a share of a frame.
#' @noRd
odd_passes <- function(rows, share = 0) {
  # in one study of a hundred without any, one would be named
  level <- 0.01 / max(1, nrow(rows))
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(rows)), cell_key(rows), quiet_arms(rows)), function(at) {
    here <- rows[at, , drop = FALSE]
    if (nrow(here) < 6) {
      return(NULL)
    }
    seen <- outlying(analysed_values(here), here$arm, here$block)
    usual <- stats::ave(here$value, here$arm, FUN = stats::median)
    # one step apart is as near as such numbers come
    near <- share > 0 & grepl(of_single_frames, here$metric[1]) & abs(here$value / usual - 1) < 1.1 * share
    odd <- which(seen$p < level & !near)
    odd <- apart_from_its_block(odd, seen$away, abs(here$value / usual - 1), here$block)
    do.call(bind_findings, lapply(odd, function(i) {
      new_finding("warning", "odd_pass",
        value = here$value[i], usual = usual[i], off = seen$away[i], arm_said = here$arm[i],
        unit = empty_na(here$unit[i]),
        workload = here$workload[i], segment = here$segment[i], context = here$context[i], metric = here$metric[i],
        arm = here$arm[i], pass = here$pass[i], part = here$part[i]
      )
    }))
  }))
}

# metrics that are the time of some frame
of_single_frames <- "^(fps_(median|min|max)|ms_p[0-9]+|low[0-9]+_.*|pacing_ms)$"

register("check", "odd_pass", scope = "study", run = function(study) {
  rows <- judged_readings(study)
  odd_passes(rows, coarsest_share(study, rows$pass))
})
