# What each of many options changes, from passes in which several were changed at once.

#' Effects of options that add up
#'
#' Least squares with a level for every block and a change for every option, on the scale of analysis.
#' @param y Values. @param block Their blocks (`NULL`: none). @param levels Matrix of 0 and 1, rows as `y`, options in
#'   columns. @param arm Which rows are runs of the same levels.
#' @param grouped Options that stayed the same over several passes in a row (restarts): their unit is the block.
#' @return A list: `effects` (data frame `option`, `estimate`, `se`, `df`), `cov` (of the estimates), `p_interact` (do
#'   options act on one another? `NA` where nothing can tell: the rest that the model leaves between runs, against what
#'   repeats of one run differ by).
#' @references Box, Hunter and Hunter (2005), Statistics for Experimenters, chapters 5 and 6; Draper and Smith (1998),
#'   Applied Regression Analysis, section 2.1 (lack of fit).
#' @noRd
screen_effects <- function(y, block, levels, arm, grouped = character()) {
  options <- colnames(levels)
  blocks <- if (length(unique(block)) > 1) stats::model.matrix(~ 0 + factor(block)) else matrix(1, length(y), 1)
  fit <- stats::lm.fit(cbind(blocks, levels), y)
  at <- ncol(blocks) + seq_along(options)
  estimate <- fit$coefficients[at]
  rss <- sum(fit$residuals^2)
  df <- fit$df.residual
  whole <- fit$rank == ncol(blocks) + length(options)
  cov <- matrix(NA_real_, length(options), length(options), dimnames = list(options, options))
  if (whole && df > 0) cov[] <- (chol2inv(fit$qr$qr[seq_len(fit$rank), seq_len(fit$rank)]) * rss / df)[at, at]
  out <- data.frame(option = options, estimate = unname(estimate), se = sqrt(diag(cov)), df = df, row.names = NULL)
  for (option in intersect(grouped, options)) out[out$option == option, c("estimate", "se", "df")] <- block_effect(
    y, block, levels, option
  )
  list(effects = out, cov = cov, p_interact = lack_of_fit(y, blocks, arm, rss, df))
}

# the change of each block by itself, then t over blocks
block_effect <- function(y, block, levels, option) {
  each <- vapply(split(seq_along(y), block), function(i) {
    fit <- stats::lm.fit(cbind(1, levels[i, , drop = FALSE]), y[i])
    unname(fit$coefficients[1 + match(option, colnames(levels))])
  }, 1)
  each <- each[is.finite(each)]
  n <- length(each)
  list(mean(each), if (n > 1) stats::sd(each) / sqrt(n) else NA_real_, n - 1)
}

lack_of_fit <- function(y, blocks, arm, rss, df) {
  if (length(unique(arm)) < 2) {
    return(NA_real_)
  }
  full <- stats::lm.fit(cbind(blocks, stats::model.matrix(~ factor(arm))[, -1, drop = FALSE]), y)
  pure <- sum(full$residuals^2)
  more <- df - full$df.residual
  if (full$df.residual < 1 || more < 1 || pure <= 0) {
    return(NA_real_)
  }
  stats::pf((rss - pure) / more / (pure / full$df.residual), more, full$df.residual, lower.tail = FALSE)
}

#' Ranks of effects, ties named
#'
#' From the largest down, an option that is not surely smaller than the first of its group shares that rank.
#' @param gain Effects in the better direction. @param cov Of the estimates. @param df,alpha For the differences.
#' @return Integer ranks.
#' @noRd
tied_ranks <- function(gain, cov, df, alpha) {
  order <- order(-gain)
  rank <- integer(length(gain))
  head <- order[1]
  rank[head] <- 1L
  for (position in seq_along(order)[-1]) {
    i <- order[position]
    se <- sqrt(max(0, cov[head, head] + cov[i, i] - 2 * cov[head, i]))
    surely <- is.finite(se) && gain[head] - gain[i] > t_reach(alpha, df) * se
    if (surely) head <- i
    rank[i] <- if (surely) position else rank[order[position - 1]]
  }
  rank
}

#' The fewest options that are foreseen to reach a target
#' @param gain Effects in the better direction, on the scale of analysis. @param cov Of them. @param target The same.
#' @return A list `options` (indices, largest first; none where all together do not reach it), `gain`, `se`.
#' @noRd
options_for <- function(gain, cov, target) {
  order <- order(-gain)
  order <- order[gain[order] > 0]
  reach <- which(cumsum(gain[order]) >= target)
  taken <- if (length(reach)) order[seq_len(reach[1])] else integer()
  list(options = taken, gain = sum(gain[taken]), se = sqrt(sum(cov[taken, taken, drop = FALSE])))
}

#' How small an effect each way would find
#' @param noise Of one pass, on the scale of analysis. @param k Options, `blocks` how many, `alpha` of each.
#' @return Data frame `way`, `passes` (of one workload), `mixed` (effects of pairs would be told as those of single
#'   options), `effect` (found four times in five).
#' @noRd
screen_power <- function(plan, noise, alpha) {
  k <- length(plan$screen$options)
  blocks <- plan$blocks
  one <- function(way, folded = FALSE) {
    plan$screen$way <- way
    plan$screen$fold_over <- folded
    levels <- screen_levels(plan)
    n <- nrow(levels)
    starts <- if (way == "singly") max(1, round(sqrt(k))) else 0
    passes <- blocks * if (way == "singly") k + starts else n
    se <- if (way == "singly") noise * sqrt((1 + 1 / starts) / blocks) else 2 * noise / sqrt(passes)
    df <- if (way == "singly") blocks - 1 else passes - blocks - k
    # with no run to spare, what pairs of options do is not separable from what single ones do
    mixed <- way == "together" && n - 1 - k < 1 && NROW(screen_aliases(levels)) > 0
    data.frame(
      way = if (folded) "together, folded over" else way, passes = passes, mixed = mixed,
      effect = if (df > 0 && !mixed) detectable_effect(se, df, t_quantile(df, alpha)) else NA_real_
    )
  }
  do.call(rbind, list(one("singly"), one("together"), one("together", TRUE)))
}
