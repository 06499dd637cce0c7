# Passes of one arm in a row: with one stint per arm, time and setting are one thing.

# Passes of a run share what the machine was like then, so where the order is made of runs, the run is what is
# replicated: passes in runs of two are called "different" in 20 % of studies without a difference, as soon as
# runs differ by as much as passes do. One run per arm, or one return, leaves nothing to tell time from the setting by.
#' @param rows Counted passes of both arms. @param key What stands in a row as one: passes, or the boots they belong to.
#' @noRd
design_from_order <- function(rows, arm, baseline, key = seq_along(rows$arm)) {
  if (anyNA(rows$order)) {
    return(NULL)
  }
  at <- order(rows$order)
  first <- at[!duplicated(key[at])]
  runs <- rle(rows$arm[first])$lengths
  stints <- length(runs)
  if (stints <= 3) {
    return(new_design("stints", why = new_code(if (stints == 3) "one_return" else "one_stint")))
  }
  if (mean(runs) >= 3 || all(runs > 1)) {
    run <- rep(seq_len(stints), runs)
    return(design_groups(rows, arm, baseline, run[match(key, key[first])], "stint"))
  }
  if (length(first) == nrow(rows)) design_session()
}

register("design", "stints", rank = 50, recognise = function(rows, arm, baseline, one_way) {
  design_from_order(rows, arm, baseline)
})

# A straight drift over the session is taken out; a step between stints is not
# and cannot be, which is why this is used only where steadiness was declared.
#' @export
estimate.honestmargin_design_stints <- function(design, rows, arm, baseline, stored = NULL, alpha = 0.05) {
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
  new_estimate(
    estimate = fit$coefficients[[2]], se = sigma * unscaled, df = df, sd = sigma,
    mean_arm = middle + half, mean_baseline = middle - half, n_arm = sum(!b), n_baseline = sum(b),
    units = min(sum(!b), sum(b)),
    # of the same shape, whatever its size
    each = (sigma * unscaled)^2 * nrow(x) / 2, df_fixed = -3, df_each = 2
  )
}

#' @export
caveat.honestmargin_design_stints <- function(design, stored = NULL) {
  new_code("steady")
}
