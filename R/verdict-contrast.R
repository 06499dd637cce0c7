# One arm against the baseline: an estimate with its standard error, on the
# scale of analysis (logarithms for percent, plain differences otherwise).

#' Contrast of one arm against the baseline
#'
#' @param rows Counted passes of the two arms with `y`, the value on the scale of analysis.
#' @param design From `recognise_design()`.
#' @param stored `NULL`, or a list `sd`, `df`: noise known from elsewhere.
#' @return A list: `estimate`, `se`, `df`, `sd` (of one unit within an arm),
#'   `mean_arm`, `mean_baseline`, `n_arm`, `n_baseline` (passes that entered), and
#'   `grow(m)`, which gives `se` and `df` of the same design with `m` more units
#'   per arm.
#' @noRd
contrast <- function(rows, design, arm, baseline, stored = NULL) {
  switch(design$kind,
    blocks = contrast_blocks(rows, design, arm, baseline),
    session = contrast_welch(rows$y, rows$arm, rows$y, rows$arm, arm, baseline),
    groups = contrast_groups(rows, design, arm, baseline),
    stints = contrast_drift(rows, arm, baseline),
    single = contrast_stored(rows, arm, baseline, stored)
  )
}

# Each arm has its own noise, so each contrast uses only its own differences:
# a variance pooled over arms is false in up to 14 % when one arm is noisier.
contrast_blocks <- function(rows, design, arm, baseline) {
  one <- block_means(rows, design$by, arm)
  other <- block_means(rows, design$by, baseline)
  d <- one - other[names(one)]
  n <- length(d)
  spread <- stats::sd(d)
  inside <- !is.na(design$by)
  list(
    estimate = mean(d), se = spread / sqrt(n), df = n - 1, sd = spread / sqrt(2),
    mean_arm = mean(one), mean_baseline = mean(other),
    n_arm = sum(inside & rows$arm == arm), n_baseline = sum(inside & rows$arm == baseline),
    grow = function(m) list(se = spread / sqrt(n + m), df = n + m - 1)
  )
}

block_means <- function(rows, by, arm) {
  mine <- !is.na(by) & rows$arm == arm
  y <- rows$y[mine]
  by <- by[mine]
  if (!anyDuplicated(by)) {
    return(stats::setNames(y, by))
  }
  unlist(lapply(split(y, by), mean))
}

contrast_groups <- function(rows, design, arm, baseline) {
  rows <- rows[!is.na(design$by), , drop = FALSE]
  group <- paste(rows$arm, design$by[!is.na(design$by)], sep = "\r")
  y <- tapply(rows$y, group, mean)
  owner <- tapply(rows$arm, group, `[`, 1)
  contrast_welch(as.numeric(y), as.character(owner), rows$y, rows$arm, arm, baseline)
}

#' Welch's t. With fewer than five units in an arm Satterthwaite's degrees of
#' freedom are too hopeful (7 % false at 3 against 10), so they are averaged
#' with those of the smaller arm.
#' @noRd
contrast_welch <- function(unit_y, unit_arm, y, y_arm, arm, baseline) {
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
    n_arm = sum(y_arm == arm), n_baseline = sum(y_arm == baseline), grow = at
  )
}

# A straight drift over the session is taken out; a step between stints is not
# and cannot be, which is why this is used only where it was asked for or where
# the tester went back to the first arm.
contrast_drift <- function(rows, arm, baseline) {
  x <- cbind(1, as.numeric(rows$arm == arm), rows$order - mean(rows$order))
  df <- nrow(rows) - 3
  fit <- stats::lm.fit(x, rows$y)
  if (df < 1 || fit$rank < 3) {
    return(NULL)
  }
  sigma <- sqrt(sum(fit$residuals^2) / df)
  unscaled <- sqrt(solve(crossprod(x))[2, 2])
  b <- rows$arm == baseline
  half <- fit$coefficients[[2]] / 2
  middle <- (mean(rows$y[b]) + mean(rows$y[!b])) / 2
  list(
    estimate = fit$coefficients[[2]], se = sigma * unscaled, df = df, sd = sigma,
    mean_arm = middle + half, mean_baseline = middle - half, n_arm = sum(!b), n_baseline = sum(b),
    grow = function(m) list(se = sigma * unscaled * sqrt(nrow(x) / (nrow(x) + 2 * m)), df = df + 2 * m)
  )
}

contrast_stored <- function(rows, arm, baseline, stored) {
  if (is.null(stored)) {
    return(NULL)
  }
  a <- rows$y[rows$arm == arm]
  b <- rows$y[rows$arm == baseline]
  at <- function(m) list(se = stored$sd * sqrt(1 / (length(a) + m) + 1 / (length(b) + m)), df = stored$df)
  c(
    list(
      estimate = mean(a) - mean(b), sd = stored$sd, mean_arm = mean(a), mean_baseline = mean(b),
      n_arm = length(a), n_baseline = length(b), grow = at
    ), at(0)
  )
}
