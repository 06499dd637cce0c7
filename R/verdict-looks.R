# Intervals that hold however often one looked: an e-value for every value that the change might have, and the values
# that none rules out.

#' The differences of one contrast, unit by unit, in the order in which they ran
#'
#' In blocks those inside each block; else the k-th unit of one arm less the k-th of the other.
#' @return Numeric, on the scale of analysis; `NULL` where a design has none.
#' @noRd
differences <- function(design, rows, arm, baseline) UseMethod("differences")

#' @export
differences.honestmargin_design <- function(design, rows, arm, baseline) NULL

#' @export
differences.honestmargin_design_blocks <- function(design, rows, arm, baseline) {
  one <- block_means(rows, design$by, arm)
  as.numeric(one - block_means(rows, design$by, baseline)[names(one)])
}

#' @export
differences.honestmargin_design_session <- function(design, rows, arm, baseline) {
  in_pairs(rows$y, rows$arm, rows$order, arm, baseline)
}

#' @export
differences.honestmargin_design_groups <- function(design, rows, arm, baseline) {
  inside <- which(!is.na(design$by))
  group <- paste(rows$arm, design$by, sep = "\r")[inside]
  of_group <- split(inside, factor(group, unique(group)))
  first <- vapply(of_group, `[`, 1L, 1L)
  in_pairs(
    vapply(of_group, function(at) mean(rows$y[at]), 1), rows$arm[first],
    vapply(of_group, function(at) mean(rows$order[at]), 1), arm, baseline
  )
}

in_pairs <- function(y, owner, order, arm, baseline) {
  turn <- if (anyNA(order)) seq_along(y) else base::order(order)
  a <- y[turn][owner[turn] == arm]
  b <- y[turn][owner[turn] == baseline]
  pairs <- min(length(a), length(b))
  unname(a[seq_len(pairs)] - b[seq_len(pairs)])
}

# how far a difference is thought to lie off, in its own standard deviations squared; 1 or 4 changes little
look_spread <- 2

#' The evidence against a value, as an e-value
#'
#' Its mean is 1 at most where the value is true, at whatever number of units one stops, so that `1 / wanted` bounds
#' how often it ever reaches `wanted`.
#' @param t One-sample t statistic of `n` differences.
#' @references Lai (1976), Annals of Statistics 4, 265-280; Howard, Ramdas, McAuliffe and Sekhon (2021), Annals of
#'   Statistics 49, 1055-1080; Wang and Ramdas (2023), arXiv 2310.03722 (the t test by mixture).
#' @noRd
e_value <- function(t, n) {
  wide <- 1 + n * look_spread
  x <- t^2 / (n - 1)
  exp(n / 2 * (log1p(x) - log1p(x / wide)) - log(wide) / 2)
}

#' The t that reaches the wanted evidence; `Inf` where `n` differences never do
#' @noRd
look_critical <- function(n, wanted) {
  wide <- 1 + n * look_spread
  ratio <- exp(2 / n * (log(wanted) + log(wide) / 2))
  ifelse(n > 1 & ratio < wide, sqrt((n - 1) * (ratio - 1) / pmax(1e-12, 1 - ratio / wide)), Inf)
}

#' The same where the standard deviation is known
#' @noRd
look_normal <- function(n, wanted) {
  wide <- 1 + n * look_spread
  sqrt(wide / (wide - 1) * (2 * log(wanted) + log(wide)))
}

#' The smallest number of units at which looking can settle anything
#' @noRd
first_look <- function(wanted) {
  n <- 2:10000
  n[is.finite(look_critical(n, wanted))][1]
}

#' One contrast, weighed so that looks are allowed for
#'
#' @param found From `estimate()`: what the same passes give without looks. @param d From `differences()`.
#' @param wanted The evidence that is asked for: contrasts in the family over what may be false.
#' @return As `estimate()`, with `crit` (half-width in standard errors) and `p`; `have` units go on counting, and
#'   `at_size(n)` tells by `moves` how much of the estimate is still open; `NULL` where the design has no differences.
#' @noRd
estimate_looks <- function(found, d, wanted) {
  n <- length(d)
  if (n < 2) {
    return(NULL)
  }
  spread <- stats::sd(d)
  at <- function(m) {
    list(se = spread / sqrt(m), df = m - 1, crit = look_critical(m, wanted), moves = sqrt(1 - min(1, n / m)))
  }
  out <- utils::modifyList(found, c(at(n), list(
    estimate = mean(d), sd = spread / sqrt(2), at_size = at, units = n, have = n, wanted = wanted, at_level = NULL,
    p = if (spread > 0) min(1, 1 / e_value(mean(d) / (spread / sqrt(n)), n)) else NA_real_
  )))
  # arm and baseline as far as they are paired
  middle <- (found$mean_arm + found$mean_baseline) / 2
  out[c("mean_arm", "mean_baseline")] <- list(middle + mean(d) / 2, middle - mean(d) / 2)
  out
}

#' The share of the level that the look at `n` passes may spend, for what has no e-value here (outcomes)
#'
#' `1 / (n (n + 1))` over all n is 1, so however many looks are taken the level is not passed (Bonferroni).
#' @noRd
spent_by_look <- function(n) 1 / (n * (n + 1))

#' Half-width of an interval in standard errors
#' @noRd
critical_t <- function(at, alpha) if (is.null(at$crit)) stats::qt(1 - alpha / 2, at$df) else at$crit
