# One session without blocks, its order mixed or not known.

design_session <- function() new_design("session")

# with what time did taken out, one stint per arm is as good as a session
register("design", "one way", rank = 40, recognise = function(rows, arm, baseline, one_way) {
  if (one_way) design_session()
})

register("design", "session", rank = 60, recognise = function(rows, arm, baseline, one_way) design_session())

#' @export
estimate.honestmargin_design_session <- function(design, rows, arm, baseline, stored = NULL, alpha = 0.05) {
  estimate_welch(rows$y, rows$arm, arm, baseline, alpha)
}

#' Welch's t. Where an arm has fewer than five units, Satterthwaite's degrees of freedom are too hopeful. Against as
#' many they are averaged with those of one arm. Against more (12 % false at 2 against 12, the small arm three times
#' noisier) the critical value is that of Cochran and Cox: the arms' own t quantiles, weighted by their shares of the
#' variance; told as the degrees of freedom that have it.
#' @param y One value a unit. @param owner The arm of each. @param passes How many passes both arms have.
#' @references Cochran and Cox (1957), Experimental Designs, section 4.14.
#' @noRd
estimate_welch <- function(y, owner, arm, baseline, alpha, passes = lengths(list(a, b))) {
  a <- y[owner == arm]
  b <- y[owner == baseline]
  spread <- c(stats::var(a), stats::var(b))
  n <- lengths(list(a, b))
  parts <- spread / n
  df <- welch_df(parts, n, alpha)
  # with as many units in both arms Satterthwaite's degrees of freedom are so many times those of one
  ratio <- sum(spread)^2 / sum(spread^2)
  if (!is.finite(ratio)) ratio <- 1
  new_estimate(
    swing = max(diff(range(a)), diff(range(b))),
    estimate = mean(a) - mean(b), se = sqrt(sum(parts)), df = df, sd = sqrt(mean(spread)),
    mean_arm = mean(a), mean_baseline = mean(b), n_arm = passes[1], n_baseline = passes[2], units = min(n),
    each = sum(spread), df_fixed = -ratio, df_each = ratio, cautious = TRUE
  )
}

#' @param parts Variance of each mean. @param n Units behind each.
#' @noRd
welch_df <- function(parts, n, alpha) {
  df <- sum(parts)^2 / sum(parts^2 / (n - 1))
  if (!is.finite(df)) df <- min(n) - 1
  if (min(n) >= 5) {
    return(df)
  }
  if (n[1] == n[2]) (df + n[1] - 1) / 2 else cautious_df(parts, n - 1, df, alpha)
}

# the degrees of freedom whose t quantile is Cochran and Cox's critical value at this level
cautious_df <- function(parts, own, most, alpha) {
  weight <- if (sum(parts) > 0) parts / sum(parts) else c(0.5, 0.5)
  crit <- sum(weight * t_reach(alpha, own))
  low <- min(own)
  gap <- function(df) t_reach(alpha, df) - crit
  # all of the variance is that of one arm
  if (most <= low || gap(low) <= 0) {
    return(low)
  }
  if (gap(most) >= 0) most else stats::uniroot(gap, c(low, most), tol = 1e-4)$root
}
