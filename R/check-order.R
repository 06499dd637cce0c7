# Does the order of the passes leave the arms apart from time?

#' Arms that run in the same order in every block
#'
#' Whatever drifts then falls on the later arms: with warming 8 to 27 % of
#' no-difference studies come out "different". With a drift seen in the data the
#' comparison is blocked; without one it is a warning.
#' @param rows Counted passes of one cell, all arms: `y`, `order`, `arm`.
#' @param by Block of each row (`NULL`: strictly alternating passes are pairs).
#' @return `NULL`, or a list `severity`, `message`, `todo`.
#' @noRd
fixed_order <- function(rows, by) {
  if (anyNA(rows$order)) {
    return(NULL)
  }
  if (is.null(by)) by <- alternating_rounds(rows)
  blocks <- length(unique(by))
  if (is.null(by) || blocks < 3 || !same_order(rows, by)) {
    return(NULL)
  }
  p <- drift_p(rows)
  if (!is.na(p) && p < 0.05) {
    return(list(
      severity = "blocking",
      message = "the arms ran in the same order in every block, and the values drift over the session",
      todo = "run it again with the order shuffled or mirrored within blocks"
    ))
  }
  if (blocks > 3) {
    list(
      severity = "warning",
      message = "the arms ran in the same order in every block; a small drift would count as the setting",
      todo = "shuffle or mirror the order within blocks"
    )
  }
}

# A B C A B C ... without blocks is a fixed order too
alternating_rounds <- function(rows) {
  at <- order(rows$order)
  arms <- length(unique(rows$arm))
  round <- integer(nrow(rows))
  round[at] <- (seq_along(at) - 1) %/% arms
  whole <- tapply(rows$arm, round, function(a) length(unique(a)))
  if (all(whole[-length(whole)] == arms)) round
}

same_order <- function(rows, by) {
  blocks <- unique(by)
  arms <- unique(rows$arm)
  at <- cbind(match(by, blocks), match(rows$arm, arms))
  # the first pass of an arm in a block stands for its place there
  place <- matrix(NA_real_, length(blocks), length(arms))
  place[at[rev(seq_along(by)), , drop = FALSE]] <- rev(rows$order)
  if (ncol(place) < 2) {
    return(FALSE)
  }
  pairs <- utils::combn(ncol(place), 2)
  all(apply(pairs, 2, function(p) {
    lead <- sign(place[, p[1]] - place[, p[2]])
    length(unique(lead[!is.na(lead)])) <= 1
  }))
}

# p value of a straight drift beside the arms' own levels
drift_p <- function(rows) {
  x <- cbind(outer(rows$arm, unique(rows$arm), "=="), rows$order - mean(rows$order))
  last <- ncol(x)
  df <- nrow(x) - last
  fit <- stats::lm.fit(x, rows$y)
  if (df < 1 || fit$rank < last) {
    return(NA_real_)
  }
  se <- sqrt(sum(fit$residuals^2) / df * chol2inv(fit$qr$qr[seq_len(last), seq_len(last)])[last, last])
  if (se == 0) NA_real_ else 2 * stats::pt(-abs(fit$coefficients[[last]] / se), df)
}
