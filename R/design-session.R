# One session without blocks, its order mixed or not known.

design_session <- function() new_design("session")

# with what time did taken out, one stint per arm is as good as a session
register("design", "one way", rank = 40, recognise = function(rows, arm, baseline, one_way) {
  if (one_way) design_session()
})

register("design", "session", rank = 60, recognise = function(rows, arm, baseline, one_way) design_session())

#' @export
estimate.honestmargin_design_session <- function(design, rows, arm, baseline, stored = NULL) {
  estimate_welch(rows$y, rows$arm, rows, arm, baseline)
}

#' Welch's t. Where an arm has fewer than five units, Satterthwaite's degrees of freedom are too hopeful. Against as
#' many they are averaged with those of one arm. Against more (12 % false at 2 against 12, the small arm three times
#' noisier) the critical value is that of Cochran and Cox: the arms' own t quantiles, weighted by their shares of the
#' variance; told as the degrees of freedom that have it.
#' @references Cochran and Cox (1957), Experimental Designs, section 4.14.
#' @noRd
estimate_welch <- function(unit_y, unit_arm, rows, arm, baseline, alpha = 0.05) {
  a <- unit_y[unit_arm == arm]
  b <- unit_y[unit_arm == baseline]
  va <- stats::var(a)
  vb <- stats::var(b)
  at <- function(n) {
    parts <- c(va, vb) / n
    df <- sum(parts)^2 / sum(parts^2 / (n - 1))
    if (!is.finite(df)) df <- min(n) - 1
    if (min(n) < 5) df <- if (n[1] == n[2]) (df + n[1] - 1) / 2 else cautious_df(parts, n - 1, df, alpha)
    list(se = sqrt(sum(parts)), df = df)
  }
  now <- at(c(length(a), length(b)))
  list(
    estimate = mean(a) - mean(b), se = now$se, df = now$df, sd = sqrt((va + vb) / 2),
    mean_arm = mean(a), mean_baseline = mean(b),
    n_arm = sum(rows$arm == arm), n_baseline = sum(rows$arm == baseline), units = min(length(a), length(b)),
    at_size = function(n) at(c(n, n)),
    # the same at the level of another family
    at_level = function(alpha) estimate_welch(unit_y, unit_arm, rows, arm, baseline, alpha)
  )
}

# the degrees of freedom whose t quantile is Cochran and Cox's critical value at this level
cautious_df <- function(parts, own, most, alpha) {
  weight <- if (sum(parts) > 0) parts / sum(parts) else c(0.5, 0.5)
  crit <- sum(weight * stats::qt(1 - alpha / 2, own))
  low <- min(own)
  gap <- function(df) stats::qt(1 - alpha / 2, df) - crit
  # all of the variance is that of one arm
  if (most <= low || gap(low) <= 0) {
    return(low)
  }
  if (gap(most) >= 0) most else stats::uniroot(gap, c(low, most), tol = 1e-4)$root
}
