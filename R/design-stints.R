# Passes of one arm in a row: with one stint per arm, time and setting are one thing.

# long stints share what the machine was like then, so they are what is
# replicated; in a mixed order runs are about two passes long
design_from_order <- function(rows, arm, baseline) {
  if (anyNA(rows$order)) {
    return(NULL)
  }
  runs <- rle(rows$arm[order(rows$order)])$lengths
  stints <- length(runs)
  if (stints > 3 && mean(runs) >= 3) {
    stint <- integer(nrow(rows))
    stint[order(rows$order)] <- rep(seq_len(stints), runs)
    return(design_groups(rows, arm, baseline, stint, "stint"))
  }
  if (stints > 3) {
    return(design_session())
  }
  new_design("stints", why = new_code("one_stint"), returned = stints == 3)
}

register("design", "stints", rank = 50, recognise = function(rows, arm, baseline, one_way) {
  design_from_order(rows, arm, baseline)
})

# A straight drift over the session is taken out; a step between stints is not
# and cannot be, which is why this is used only where it was asked for or where
# the tester went back to the first arm.
#' @export
estimate.honestmargin_design_stints <- function(design, rows, arm, baseline, stored = NULL) {
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

#' @export
caveat.honestmargin_design_stints <- function(design, stored = NULL) {
  new_code(if (design$returned) "one_return" else "steady")
}
