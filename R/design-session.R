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

#' Welch's t. With fewer than five units in an arm Satterthwaite's degrees of
#' freedom are too hopeful (7 % false at 3 against 10), so they are averaged
#' with those of the smaller arm.
#' @noRd
estimate_welch <- function(unit_y, unit_arm, rows, arm, baseline) {
  a <- unit_y[unit_arm == arm]
  b <- unit_y[unit_arm == baseline]
  va <- stats::var(a)
  vb <- stats::var(b)
  at <- function(m) {
    n <- c(length(a), length(b)) + m
    parts <- c(va, vb) / n
    df <- sum(parts)^2 / sum(parts^2 / (n - 1))
    if (!is.finite(df)) df <- min(n) - 1
    if (min(n) < 5) df <- (df + min(n) - 1) / 2
    list(se = sqrt(sum(parts)), df = df)
  }
  now <- at(0)
  list(
    estimate = mean(a) - mean(b), se = now$se, df = now$df, sd = sqrt((va + vb) / 2),
    mean_arm = mean(a), mean_baseline = mean(b),
    n_arm = sum(rows$arm == arm), n_baseline = sum(rows$arm == baseline), grow = at
  )
}
