# Loops of one run: how level they are held, and from which one on they fall.

#' What the loops of one run did
#'
#' @param v One number for each loop, in their order. @param better `"higher"` or `"lower"`.
#' @param alpha How often a run that does not fall may seem to.
#' @return A list: `loops`, `first`, `best`, `lowest` (the worst of them), `last`, `level` (percent: the worst over the
#'   best; where lower is better the best over the worst; `NA` where one is not above 0), `from` (the first loop of the
#'   lower level, `NA` where none is found), `fall` (percent, mean of the loops from there on against those before).
#' @noRd
loop_summary <- function(v, better, alpha = 0.05) {
  lower <- identical(better, "lower")
  best <- if (lower) min(v) else max(v)
  worst <- if (lower) max(v) else min(v)
  level <- if (min(v) > 0) 100 * if (lower) best / worst else worst / best else NA_real_
  from <- falls_from(if (lower) -v else v, alpha)
  later <- seq_along(v) >= from
  c(
    list(loops = length(v), first = v[1], best = best, lowest = worst, last = v[length(v)], level = level, from = from),
    fall = if (is.na(from) || mean(v[!later]) == 0) NA_real_ else 100 * (mean(v[later]) / mean(v[!later]) - 1)
  )
}

#' From which loop on they are lower than those before
#'
#' The split with the largest fall of the mean, in standard errors; it stands where among 999 shuffles of the same loops
#' at most a share `alpha` has one as large (each was tried, so the largest of all is what shuffles are compared by).
#' @references Good (2005), Permutation, Parametric and Bootstrap Tests of Hypotheses, chapter 3; Hawkins (1977),
#'   Journal of the American Statistical Association 72, 180-186 (the largest of all splits).
#' @return The number of a loop; `NA` below six loops, and where nothing falls.
#' @noRd
falls_from <- function(v, alpha) {
  n <- length(v)
  if (n < 6 || max(v) == min(v)) {
    return(NA_integer_)
  }
  own <- largest_fall(matrix(v))
  shuffled <- seeded(1, replicate(999, sample(v)))
  if ((1 + sum(largest_fall(shuffled)$size >= own$size * (1 - 1e-12))) / 1000 <= alpha) own$from else NA_integer_
}

# of each column: two loops at least on each side
largest_fall <- function(v) {
  n <- nrow(v)
  before <- 2:(n - 2)
  sums <- apply(v, 2, cumsum)[before, , drop = FALSE]
  total <- rep(colSums(v), each = length(before))
  size <- (sums / before - (total - sums) / (n - before)) / sqrt(1 / before + 1 / (n - before))
  at <- max.col(t(size), ties.method = "first")
  list(size = size[cbind(at, seq_len(ncol(v)))], from = before[at] + 1L)
}
