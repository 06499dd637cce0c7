# Which arms could be the best: all that no other arm is surely better than.

#' The means of every block and arm, all arms that are asked for
#'
#' @param rows Counted passes of one cell: `arm`, `block`, `y`. @param arms Which, in order.
#' @return Matrix, blocks by arms, `NA` where an arm has no pass in a block; `NULL` where no block is known.
#' @noRd
block_matrix <- function(rows, arms) {
  if (!length(rows$block) || anyNA(rows$block)) {
    return(NULL)
  }
  means <- block_means(lay_in_blocks(rows$block, rows$arm), rows$y)
  out <- matrix(NA_real_, nrow(means), length(arms), dimnames = list(rownames(means), arms))
  known <- intersect(arms, colnames(means))
  out[, known] <- means[, known]
  out
}

#' Could an arm be the best?
#'
#' An arm leaves when some other is better by a one-sided t of its own at level `1 - confidence^(1 / (a (a - 1)))` over
#' all ordered pairs of `a` arms, so that the one that is truly best is lost in at most 5 % of studies (simulated with
#' equal arms and with a noisy best; over `a - 1` only it would be up to 32 %).
#' @param rows Counted passes of one cell, with `y`. @param arms Arms in order. @param better `higher` or `lower`.
#' @return Data frame, one row an arm that has readings: `arm`, `mean` (scale of analysis), `could`, `by` (the arm that
#'   rules it out, by most), `at_least` (one-sided bound of by how much), `known` (whether any pair could be weighed).
#' @references Hsu (1981), Annals of Statistics 9, 1026-1034 (constrained multiple comparisons with the best).
#' @noRd
best_set <- function(rows, arms, better, confidence) {
  arms <- arms[arms %in% rows$arm]
  up <- if (better == "lower") -1 else 1
  level <- 1 - confidence^(1 / (length(arms) * max(1, length(arms) - 1)))
  out <- data.frame(
    arm = arms, mean = vapply(arms, function(a) mean(rows$y[rows$arm == a]), 1), could = TRUE, by = NA_character_,
    at_least = NA_real_, known = FALSE, row.names = NULL
  )
  for (i in seq_along(arms)) for (other in arms[-i]) {
    ahead <- lead_of(rows, other, arms[i], up, level)
    if (is.na(ahead)) next
    out$known[i] <- TRUE
    if (ahead > 0 && (is.na(out$at_least[i]) || ahead > out$at_least[i])) {
      out[i, c("could", "by", "at_least")] <- list(FALSE, other, ahead)
    }
  }
  out
}

#' By how much one arm is ahead of another at least, one-sided, on the scale of analysis
#' @return `NA` where these passes cannot tell.
#' @noRd
lead_of <- function(rows, arm, baseline, up, level) {
  found <- estimate_pair(rows, arm, baseline, 2 * level)
  if (is.null(found)) {
    return(NA_real_)
  }
  up * found$estimate - stats::qt(1 - level, found$df) * found$se
}

#' Two arms of one cell by themselves, as `estimate()`; `NULL` where time and setting cannot be told apart
#' @noRd
estimate_pair <- function(rows, arm, baseline, alpha = 0.05) {
  two <- take_rows(rows, which(rows$arm %in% c(arm, baseline)))
  design <- recognise_design(two, arm, baseline)
  if (design$kind != "stints") estimate(design, two, arm, baseline, alpha = alpha)
}
