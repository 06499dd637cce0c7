# One arm against the baseline over several workloads at once.

#' The change over all workloads
#'
#' Workloads that run in one block share what that block was like, so their log ratios hang together and a t over
#' workloads alone is 17 to 52 % false. For *these workloads* the log ratios are averaged over the workloads within each
#' block, then t over blocks. For *workloads like these* the interval is the wider one of that and of t over workloads.
#' Without blocks, the errors of the workloads add up (Satterthwaite), which assumes that they share no noise.
#' @param d Matrix of differences on the scale of analysis, blocks by workloads; or a list of estimates (`estimate`,
#'   `se`, `df`), one a workload, where there are no blocks.
#' @param alpha Level of both intervals.
#' @return A list: `change`, `workloads` (their own changes), `blocks`, and for each of `these`, `like` and `next_one`
#'   (a further workload, by prediction) the half-width, `NA` where it cannot be known; `p_differ`, whether workloads
#'   differ in their change.
#' @references Higgins, Thompson and Spiegelhalter (2009), Journal of the Royal Statistical Society A 172, 137-159
#'   (prediction of a further one); Westfall and Young (1993), Resampling-based multiple testing (the largest t).
#' @noRd
overall_change <- function(d, alpha) {
  in_blocks <- is.matrix(d)
  own <- if (in_blocks) colMeans(d) else vapply(d, `[[`, 1, "estimate")
  k <- length(own)
  half <- if (in_blocks) half_over_blocks(d, alpha) else half_of_sum(d, alpha)
  over <- if (k > 1) t_reach(alpha, k - 1) * stats::sd(own) else NA_real_
  list(
    change = mean(own), workloads = own, blocks = if (in_blocks) nrow(d) else NA_integer_, these = half,
    # a half-width that is missing is no narrow one: workloads of one run share what that run was like, and their spread
    # does not show it (20 to 52 % false where each arm ran each workload once)
    like = if (k > 1) max(half, over / sqrt(k)) else NA_real_,
    next_one = if (is.na(half)) NA_real_ else over * sqrt(1 + 1 / k),
    p_differ = if (in_blocks) p_workloads_differ(d) else NA_real_
  )
}

half_over_blocks <- function(d, alpha) {
  n <- nrow(d)
  if (n < 2) NA_real_ else t_reach(alpha, n - 1) * stats::sd(rowMeans(d)) / sqrt(n)
}

half_of_sum <- function(each, alpha) {
  part <- vapply(each, function(e) empty_to(e$se, NA_real_), 1)^2
  df <- sum(part)^2 / sum(part^2 / vapply(each, function(e) empty_to(e$df, NA_real_), 1))
  if (is.finite(df)) t_reach(alpha, df) * sqrt(sum(part)) / length(each) else NA_real_
}

#' Do workloads differ in their change?
#'
#' Two workloads of the same blocks are compared by their differences inside each block, which what blocks bring drops
#' out of, whatever the noise of each: from six blocks on the largest absolute t over all pairs against what it is under
#' every choice of signs of whole blocks, below that Bonferroni over the pairs. (Welch's F over the workloads, blocks
#' taken out, is 14 to 32 % false with three blocks.)
#' @param d Matrix, blocks by workloads.
#' @return The p value, `NA` where too few blocks tell.
#' @noRd
p_workloads_differ <- function(d) {
  n <- nrow(d)
  if (n < 3 || ncol(d) < 2) {
    return(NA_real_)
  }
  pairs <- utils::combn(ncol(d), 2)
  gap <- d[, pairs[1, ], drop = FALSE] - d[, pairs[2, ], drop = FALSE]
  spread <- apply(gap, 2, stats::sd)
  if (any(spread == 0)) {
    return(NA_real_)
  }
  most <- max(abs(colMeans(gap)) / spread) * sqrt(n)
  if (n < 6) {
    return(min(1, ncol(gap) * 2 * stats::pt(-most, n - 1)))
  }
  mean(turned_maxima(gap, all_turns(n, 10000)) >= most * (1 - 1e-9))
}
