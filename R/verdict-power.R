# How likely a design is to reach an answer, and what it takes to get there.

#' Chance that the interval excludes 0, or lies inside the worth band
#'
#' Given the standard error that will be estimated, both events are normal
#' probabilities; the estimated one is averaged over its chi distribution. With
#' no band this is the power of the two-sided t test (noncentral t).
#'
#' @param effect True difference, `se` its true standard error, `crit` the
#'   half-width in estimated standard errors, `error` from `error_nodes()`.
#' @param band Two numbers, the worth band on the scale of analysis; `NULL` for none.
#' @return One probability.
#' @references Johnson, Kotz and Balakrishnan (1995), Continuous Univariate
#'   Distributions 2, chapter 31 (noncentral t); Schuirmann (1987), Journal of
#'   Pharmacokinetics and Biopharmaceutics 15, 657-680 (two one-sided tests).
#' @noRd
chance_of_answer <- function(effect, se, crit, error, band = NULL) {
  band <- if (is.null(band)) c(NA_real_, NA_real_) else band / se
  chance_in_errors(crit * error, effect / se, band[1], band[2])
}

#' Estimated over true standard error, at equally likely points
#' @noRd
error_nodes <- function(df, nodes = 40) as.vector(nodes_of(df, nodes))

#' The same for many degrees of freedom
#' @return Matrix, one column each.
#' @noRd
nodes_of <- function(df, nodes = 40) {
  p <- (seq_len(nodes) - 0.5) / nodes
  out <- matrix(1, nodes, length(df))
  many <- which(df > 30 & df <= 2000)
  # Wilson and Hilferty (1931): off by less than 1e-4 here, and much quicker
  part <- rep(2 / (9 * df[many]), each = nodes)
  out[, many] <- sqrt((1 - part + stats::qnorm(p) * sqrt(part))^3)
  few <- which(df <= 30)
  out[, few] <- sqrt(stats::qchisq(rep(p, length(few)), rep(df[few], each = nodes)) / rep(df[few], each = nodes))
  out
}

#' Smallest effect found with the wanted power
#' @param crit Half-width in standard errors. @param se,df,crit One element a comparison.
#' @return On the scale of analysis.
#' @noRd
detectable_effect <- function(se, df, crit, power = 0.8) {
  # of one degree of freedom and level there are many in a study
  key <- sprintf("%.15g %.15g %.15g", df, crit, power)
  able <- is.finite(se) & se > 0
  for (i in which(able)[!duplicated(key[able])]) {
    if (is.null(effects[[key[i]]])) assign(key[i], effect_in_errors(df[i], crit[i], power), effects)
  }
  out <- rep(NA_real_, length(se))
  out[able] <- se[able] * vapply(key[able], function(k) effects[[k]], 1, USE.NAMES = FALSE)
  out
}

effects <- new.env(parent = emptyenv())

# in units of the standard error
effect_in_errors <- function(df, crit, power) {
  if (crit < 30) {
    gap <- function(effect) stats::pt(crit, df, effect, lower.tail = FALSE) + stats::pt(-crit, df, effect) - power
  } else {
    # R's noncentral t turns into an approximation far out
    error <- error_nodes(df, 500)
    gap <- function(effect) chance_of_answer(effect, 1, crit, error) - power
  }
  stats::uniroot(gap, c(crit / 2, 3 * crit + 4), tol = 1e-3, extendInt = "upX")$root
}

#' Chance that `n` units per arm give an answer, with the estimate taken as true
#'
#' Where the units at hand go on counting, only what the further ones bring is still open.
#' @param e From `new_estimate()`. @param n,alpha One element a comparison. @param band Matrix of two columns, the worth
#'   bands on the scale of analysis, `NA` for none.
#' @noRd
chance_at_size <- function(e, n, alpha, band) {
  at <- at_size(e, n, alpha)
  out <- numeric(length(n))
  able <- which(at$df >= 0.5 & is.finite(at$crit))
  open <- ifelse(is.na(e$wanted), 1, sqrt(1 - pmin(1, e$have / n)))[able]
  se <- at$se[able] * open
  df <- at$df[able]
  out[able] <- chances_in_errors(
    known_nodes(unique(df)), match(df, unique(df)), at$crit[able] / open, e$estimate[able] / se, band[able, 1] / se,
    band[able, 2] / se
  )
  out
}

# those of few degrees of freedom cost most and are asked for again and again
known_nodes <- function(df) {
  few <- df <= 30
  # those of a whole long session need not be kept
  if (length(nodes$df) > 2000) nodes$df <- nodes$error <- NULL
  new <- df[few & !df %in% nodes$df]
  if (length(new)) {
    nodes$error <- cbind(nodes$error, nodes_of(new))
    nodes$df <- c(nodes$df, new)
  }
  out <- matrix(1, 40, length(df))
  out[, few] <- nodes$error[, match(df[few], nodes$df)]
  out[, !few] <- nodes_of(df[!few])
  out
}

nodes <- new.env(parent = emptyenv())

#' Is there next to no chance left that a study settles within the units it may come to?
#' @noRd
is_hopeless <- function(e, alpha, band) {
  out <- logical(length(alpha))
  at <- which(e$units < e$most)
  if (length(at)) out[at] <- chance_at_size(columns_at(e, at), e$most[at], alpha[at], band[at, , drop = FALSE]) < 0.05
  out
}
