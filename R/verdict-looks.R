# Intervals that hold however often one looked: an e-value for every value that the change might have, and the values
# that none rules out.

#' What the differences of one contrast are like, unit by unit in the order in which they ran
#'
#' In blocks those inside each block; else the k-th unit of one arm less the k-th of the other.
#' @param found From `estimate()`.
#' @return A list `n`, `mean`, `spread` (standard deviation); `NULL` where a design has none.
#' @noRd
differences <- function(design, found, rows, arm, baseline) UseMethod("differences")

#' @export
differences.honestmargin_design <- function(design, found, rows, arm, baseline) NULL

#' @export
differences.honestmargin_design_blocks <- function(design, found, rows, arm, baseline) differences_in_blocks(found)

# an estimate in blocks is made of them
differences_in_blocks <- function(e) list(n = e$units, mean = e$estimate, spread = sqrt(e$each))

#' @export
differences.honestmargin_design_session <- function(design, found, rows, arm, baseline) {
  in_pairs(rows$y, rows$arm, rows$order, arm, baseline)
}

#' @export
differences.honestmargin_design_groups <- function(design, found, rows, arm, baseline) {
  groups <- group_means(design, rows)
  in_pairs(groups$y, groups$arm, groups$order, arm, baseline)
}

in_pairs <- function(y, owner, order, arm, baseline) {
  turn <- if (anyNA(order)) seq_along(y) else base::order(order)
  a <- y[turn][owner[turn] == arm]
  b <- y[turn][owner[turn] == baseline]
  pairs <- seq_len(min(length(a), length(b)))
  d <- a[pairs] - b[pairs]
  list(n = length(d), mean = mean(d), spread = stats::sd(d))
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

#' Contrasts, weighed so that looks are allowed for
#'
#' @param e From `new_estimate()`: what the same passes give without looks. @param d From `differences()`.
#' @param wanted The evidence that is asked for: contrasts in the family over what may be false.
#' @param most How many units there may come to be, or `NULL`.
#' @return `e` with `wanted`, `p` and `have`: its units go on counting.
#' @noRd
estimate_looks <- function(e, d, wanted, most) {
  # arm and baseline as far as they are paired
  middle <- (e$mean_arm + e$mean_baseline) / 2
  evidence <- e_value(d$mean / (d$spread / sqrt(d$n)), d$n)
  utils::modifyList(e, list(
    estimate = d$mean, se = d$spread / sqrt(d$n), df = d$n - 1, sd = d$spread / sqrt(2), units = d$n,
    mean_arm = middle + d$mean / 2, mean_baseline = middle - d$mean / 2, fixed = 0, each = d$spread^2, df_fixed = -1,
    df_each = 1, cautious = FALSE, have = d$n, wanted = rep(wanted, length(d$n)),
    most = empty_to(most, NA_real_), p = ifelse(d$spread > 0, pmin(1, 1 / evidence), NA_real_)
  ))
}

#' What stands in the way where looking can settle nothing yet
#' @param e From `bear_at_hand()`. @param unit What is looked after.
#' @return A list of codes, `NULL` for each that can be settled.
#' @noRd
looks_begin <- function(e, unit) {
  lapply(seq_along(e$crit), function(i) {
    if (!is.na(e$wanted[i]) && is.infinite(e$crit[i])) {
      new_code("looks_begin", n = first_look(e$wanted[i]), have = e$units[i], unit = unit)
    }
  })
}

#' The share of the level that the look at `n` passes may spend, for what has no e-value here (outcomes)
#'
#' `1 / (n (n + 1))` over all n is 1, so however many looks are taken the level is not passed (Bonferroni).
#' @noRd
spent_by_look <- function(n) 1 / (n * (n + 1))
