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
#' The variances are those of the verdicts: helped by the other arms, moderated over cells. Simulated with 4 arms, 5
#' blocks, 15 cells (600 studies): the best is lost in 0.5 to 1.4 % of cells (own variance 0.5 to 3.9), and an arm that
#' is 3 standard deviations of a pass behind is ruled out in 92 % (own 56).
#' @param rows Counted passes of one cell, with `y`. @param arms Arms in order. @param better `higher` or `lower`.
#' @param cell From `describe_cell()`, with `priors` by arm, or `NULL`: then each pair has its own variance.
#' @return Data frame, one row an arm that has readings: `arm`, `mean` (scale of analysis), `could`, `by` (the arm that
#'   rules it out, by most), `at_least` (one-sided bound of by how much), `known` (whether any pair could be weighed).
#' @references Hsu (1981), Annals of Statistics 9, 1026-1034 (constrained multiple comparisons with the best).
#' @noRd
best_set <- function(rows, arms, better, confidence, cell = NULL) {
  arms <- arms[arms %in% rows$arm]
  level <- 1 - confidence^(1 / (length(arms) * max(1, length(arms) - 1)))
  # of each arm, by how much every other is ahead of it
  ahead <- leads_of(rows, arms, if (better == "lower") -1 else 1, level, cell)
  most <- apply(ahead, 2, function(of) if (all(is.na(of))) NA_real_ else max(of, na.rm = TRUE))
  out <- which(most > 0)
  by <- rep(NA_character_, length(arms))
  by[out] <- arms[apply(ahead[, out, drop = FALSE], 2, which.max)]
  could <- !seq_along(arms) %in% out
  list2DF(list(
    arm = arms, mean = vapply(arms, function(a) mean(rows$y[rows$arm == a]), 1, USE.NAMES = FALSE), could = could,
    by = by, at_least = ifelse(could, NA_real_, unname(most)), known = unname(colSums(!is.na(ahead)) > 0)
  ))
}

#' By how much each arm is ahead of each other at least, one-sided, on the scale of analysis
#' @param up 1 where higher is better, else -1. @param level One-sided.
#' @return Matrix: the arm of the row ahead of that of the column; `NA` where these passes cannot tell.
#' @noRd
leads_of <- function(rows, arms, up, level, cell = NULL) {
  n <- length(arms)
  out <- matrix(NA_real_, n, n)
  lay <- if (all(is.na(rows$boot)) && !all(is.na(rows$block))) lay_in_blocks(rows$block, rows$arm)
  means <- if (!is.null(lay)) block_means(lay, rows$y)
  for (i in seq_len(n - 1)) {
    others <- (i + 1):n
    in_blocks <- if (is.null(lay)) {
      rep(FALSE, length(others))
    } else {
      colSums(!is.na(means[, arms[others], drop = FALSE] + means[, arms[i]])) > 1
    }
    together <- others[in_blocks]
    e <- if (length(together)) {
      own <- estimate_in_blocks(means, lay$passes, arms[together], arms[i])
      steadied(own, means, arms[together], arms, arms[i], cell)
    }
    alone <- lapply(setdiff(others, together), function(j) {
      c(list(at = j), estimate_pair(rows, arms[j], arms[i], 2 * level))
    })
    for (one in c(list(c(list(at = together), e)), alone)) {
      if (is.null(one$estimate)) next
      half <- t_reach(2 * level, one$df) * one$se
      out[one$at, i] <- up * one$estimate - half
      out[i, one$at] <- -up * one$estimate - half
    }
  }
  out
}

#' Estimates in blocks with the variance that verdicts have
#' @param e From `estimate_in_blocks()`, of `of`. @param arms All that are compared with `baseline` in this question.
#' @param cell From `describe_cell()` and `with_priors()`; `NULL`: their own.
#' @noRd
steadied <- function(e, means, of, arms, baseline, cell) {
  if (is.null(cell) || !isTRUE(cell$all_in_blocks) || !is.null(cell$firsts)) {
    return(e)
  }
  prior <- cell$priors[[baseline]]
  spread <- spread_in_blocks(means, setdiff(arms, baseline), baseline, if (is.null(prior)) 2 else 1)
  pool_variance(e, of, spread, prior)
}

#' By how much one arm is ahead of another at least, one-sided, on the scale of analysis
#' @return `NA` where these passes cannot tell.
#' @noRd
lead_of <- function(rows, arm, baseline, up, level) {
  found <- estimate_pair(rows, arm, baseline, 2 * level)
  if (is.null(found)) {
    return(NA_real_)
  }
  up * found$estimate - t_reach(2 * level, found$df) * found$se
}

#' Two arms of one cell by themselves, as `estimate()`; `NULL` where time and setting cannot be separated
#' @noRd
estimate_pair <- function(rows, arm, baseline, alpha = 0.05) {
  two <- take_rows(rows, which(rows$arm %in% c(arm, baseline)))
  design <- recognise_design(two, arm, baseline)
  if (design$kind != "stints") estimate(design, two, arm, baseline, alpha = alpha)
}

# where noise cannot be known, or time not told from the setting, the change itself is all there is
one_change <- function(cell, arm, baseline) {
  found <- estimate_pair(cell, arm, baseline)
  if (!is.null(found)) {
    return(found)
  }
  list(estimate = mean(cell$y[cell$arm == arm]) - mean(cell$y[cell$arm == baseline]), se = NA_real_, df = NA_real_)
}
