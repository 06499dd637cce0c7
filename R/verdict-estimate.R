# What other numbers of units would give, and what few events, passes never touched and a fixed order add.

#' The width of an interval with `n` units per arm, for many comparisons at once
#'
#' @param e From `new_estimate()`. @param n Units per arm, one element a comparison. @param alpha Two-sided, the same.
#' @return A list: `se`, `df`, `crit` (half-width in standard errors).
#' @noRd
at_size <- function(e, n, alpha) {
  se <- sqrt(e$fixed + e$each / n)
  df <- e$df_fixed + e$df_each * n
  few <- which(e$cautious & n < 5)
  df[few] <- (df[few] + n[few] - 1) / 2
  by <- which(e$contrasts > 1 | e$prior_df > 0)
  if (length(by)) {
    nu <- n[by] - 1
    helped <- helped_variance(e$own[by], e$total[by], e$squares[by], e$all[by], e$contrasts[by], nu)
    cost <- costs_of_limits(e$contrasts[by], n[by], alpha[by])
    with <- which(e$prior_df[by] > 0)
    if (length(with)) {
      at <- by[with]
      moderated <- moderated_variance(
        e$own[at], helped$variance[with], helped$df[with], e$prior_df[at], e$prior[at], e$contrasts[at], nu[with]
      )
      helped$variance[with] <- moderated$variance
      helped$df[with] <- moderated$df
      cost[with] <- 1
    }
    se[by] <- sqrt(helped$variance / n[by]) * cost
    df[by] <- helped$df
  }
  bear_all(e, pmax(se, e$least_se), pmin(df, e$most_df), n, alpha)
}

#' What is at hand, as wide as it must be
#' @return `e` with `se`, and `crit`, `few` (whether few events made it so wide).
#' @noRd
bear_at_hand <- function(e, alpha) {
  e[c("se", "crit", "few")] <- bear_all(e, e$se, e$df, e$units, alpha)[c("se", "crit", "few")]
  e
}

bear_all <- function(e, se, df, n, alpha) {
  crit <- critical_t(df, alpha, n, e$wanted)
  few <- logical(length(n))
  never <- which(!is.na(e$untouched))
  if (length(never)) {
    may_be <- possible_amount(e$amount[never], e$untouched[never] * n[never] / e$units[never])
    se[never] <- pmax(se[never], may_be / crit[never])
  }
  counted <- which(!is.na(e$events))
  if (length(counted)) {
    floor <- half_of_counts(columns_at(e[c("events", "size", "units", "wanted")], counted), n[counted], alpha[counted])
    few[counted] <- floor / crit[counted] > se[counted]
    se[few] <- (floor / crit[counted])[few[counted]]
  }
  list(se = se + e$extra / crit, df = df, crit = crit, few = few)
}

#' Half-width of an interval in standard errors: of t, or where looks are allowed for, by the evidence wanted
#' @noRd
critical_t <- function(df, alpha, n, wanted) {
  crit <- t_quantile(df, alpha)
  by_looks <- which(!is.na(wanted))
  crit[by_looks] <- look_critical(n[by_looks], wanted[by_looks])
  crit
}

# many comparisons have few different degrees of freedom and levels
t_quantile <- function(df, alpha) {
  key <- complex(real = df, imaginary = alpha)
  once <- which(!duplicated(key))
  t_reach(alpha[once], df[once])[match(key, key[once])]
}

#' The comparisons of some rows only
#' @noRd
columns_at <- function(columns, at) lapply(columns, `[`, at)

#' How wide an interval must be where few blocks leave too much to the signs of their differences
#'
#' Where passes come in two lumps (two memory layouts), all of one arm lie in one and all of the baseline in the other
#' in
#' `2^(1 - 2 n)` of comparisons of n blocks, and their differences hardly vary: with three blocks 34 % of families of 15
#' had such a one. Where that is likelier over the family than 5 %, an interval is at least as wide as the widest range
#' of differences inside any comparison of that metric: what passes do without the setting.
#'
#' Of moderated comparisons of several arms only those are widened whose differences hardly vary beside those of their
#' cell, to the widest of these: the other cells' noise keeps the rest from being too sure (bimodal passes, cells whose
#' noise differs by a factor e^1: 6 to 8 % without, at most 3.5 % with it; all of them widened find nothing at all in a
#' family of 45 with five blocks).
#' @param rows From `bind_contrasts()`. @return `rows` with `least_half` (scale of analysis), and `alone_half` where
#'   nothing is moderated.
#' @noRd
with_few_signs <- function(rows, level = 0.05) {
  n <- length(rows$arm)
  swing <- empty_to(rows$swing, rep(NA_real_, n))
  few <- rows$found & !is.na(swing) & rows$role == "primary" & rows$family_size * 2^(1 - 2 * rows$units) > level
  widest <- function(of, here) {
    out <- numeric(n)
    for (one in unique(of[here])) out[here & of == one] <- max(swing[here & of == one])
    out
  }
  rows$least_half <- rows$alone_half <- widest(rows$metric, few)
  beside <- few & (empty_to(rows$prior_df, rep(0, n)) > 0 & rows$contrasts > 1) %in% TRUE
  if (any(beside)) {
    in_cell <- widest(paste(rows$cell, rows$baseline), beside)
    rows$least_half[beside] <- ifelse(swing < in_cell / 3, in_cell, 0)[beside]
  }
  rows
}
