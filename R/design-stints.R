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
  if (mean(runs) >= 3 || all(runs > 1) || !looks_shuffled(rows$arm[first])) {
    run <- rep(seq_len(stints), runs)
    return(design_groups(rows, arm, baseline, run[match(key, key[first])], "stint"))
  }
  if (length(first) == nrow(rows)) design_session()
}

#' Is an order of two arms one that shuffling brings, and not stints with a few passes gone back for?
#'
#' Four of one arm, four of the other and then one of each look mixed by their number of runs alone, and passes of such
#' a stint share what the machine was like then (20 to 28 % false). Shuffled orders have so few runs in one study of
#' four; there the run is taken for the unit without need, which costs power and no truth.
#' @param arm Of each pass, in order of time.
#' @references Wald and Wolfowitz (1940), Annals of Mathematical Statistics 11, 147-162 (the number of runs).
#' @noRd
looks_shuffled <- function(arm) {
  n <- as.numeric(tabulate(match(arm, unique(arm)), 2))
  runs <- 2:length(rle(arm)$lengths)
  half <- runs %/% 2
  ways <- ifelse(runs %% 2 == 0,
    2 * choose(n[1] - 1, half - 1) * choose(n[2] - 1, half - 1),
    choose(n[1] - 1, half) * choose(n[2] - 1, half - 1) + choose(n[1] - 1, half - 1) * choose(n[2] - 1, half)
  )
  sum(ways) / choose(sum(n), n[1]) > 0.25
}

register("design", "stints", rank = 50, recognise = function(rows, arm, baseline, one_way) {
  design_from_order(rows, arm, baseline)
})

# A straight drift over the session is taken out; a step between stints is not
# and cannot be, which is why this is used only where steadiness was declared.
#' @export
estimate.honestmargin_design_stints <- function(design, rows, arm, baseline, stored = NULL, alpha = 0.05) {
  passes <- c(sum(rows$arm == arm), sum(rows$arm == baseline))
  if (!is.null(design$by)) rows <- list2DF(group_means(design, rows))
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
    mean_arm = middle + half, mean_baseline = middle - half, n_arm = passes[1], n_baseline = passes[2],
    units = min(sum(!b), sum(b)),
    # of the same shape, whatever its size
    each = (sigma * unscaled)^2 * nrow(x) / 2, df_fixed = -3, df_each = 2
  )
}

#' @export
caveat.honestmargin_design_stints <- function(design, stored = NULL) {
  new_code("steady")
}
