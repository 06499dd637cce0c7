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
  able <- which(is.finite(se) & se > 0)
  out <- rep(NA_real_, length(se))
  out[able] <- se[able] * effects_in_errors(df[able], crit[able], power)
  out
}

#' The same in units of the standard error, for many comparisons
#'
#' Whole degrees of freedom and levels are few, and kept. Between them there is no end of others: there the ratio of
#' effect to half-width lies on a line between points 2 % apart (off by less than the search is).
#' @noRd
effects_in_errors <- function(df, crit, power) {
  out <- numeric(length(df))
  whole <- df == round(df) | df > 1e4
  out[whole] <- kept_effects(df[whole], crit[whole], power)
  between <- which(!whole)
  if (length(between)) {
    # the level that these intervals are of
    alpha <- signif(2 * stats::pt(-crit[between], df[between]), 10)
    place <- log(df[between]) / 0.02
    share <- place - floor(place)
    ratio <- function(place) {
      at <- exp(0.02 * place)
      width <- t_quantile(at, alpha)
      kept_effects(at, width, power) / width
    }
    out[between] <- crit[between] * ((1 - share) * ratio(floor(place)) + share * ratio(floor(place) + 1))
  }
  out
}

kept_effects <- function(df, crit, power) {
  # of one degree of freedom and level there are many in a study
  key <- sprintf("%.15g %.10g %.15g", df, crit, power)
  once <- which(!duplicated(key))
  found <- vapply(once, function(i) {
    made_once(paste("effect", key[i]), function() effect_in_errors(df[i], crit[i], power))
  }, 1)
  found[match(key, key[once])]
}

# in units of the standard error
effect_in_errors <- function(df, crit, power) {
  if (crit < 25) {
    gap <- function(effect) stats::pt(crit, df, effect, lower.tail = FALSE) + stats::pt(-crit, df, effect) - power
  } else {
    # R's noncentral t turns into an approximation far out, from effects of 37.6 on
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

#' The same, quickly: those of few degrees of freedom cost most and are asked for again and again
#'
#' Whole ones are kept; between them there is no end of others, which lie on a line between points 2 % apart (off by
#' less than 1e-4).
#' @noRd
known_nodes <- function(df) {
  out <- matrix(1, 40, length(df))
  many <- df > 30
  out[, many] <- nodes_of(df[many])
  whole <- !many & df == round(df)
  out[, whole] <- kept_nodes(df[whole])
  between <- which(!many & !whole)
  if (length(between)) {
    place <- log(df[between]) / 0.02
    share <- rep(place - floor(place), each = 40)
    out[, between] <- (1 - share) * kept_nodes(exp(0.02 * floor(place))) +
      share * kept_nodes(exp(0.02 * (floor(place) + 1)))
  }
  out
}

kept_nodes <- function(df) {
  new <- unique(df[!df %in% cache$nodes$df])
  if (length(new)) {
    cache$nodes <- list(df = c(cache$nodes$df, new), error = cbind(cache$nodes$error, nodes_of(new)))
  }
  cache$nodes$error[, match(df, cache$nodes$df), drop = FALSE]
}

#' Is there next to no chance left that a study settles within the units it may come to?
#' @noRd
is_hopeless <- function(e, alpha, band) {
  out <- logical(length(alpha))
  at <- which(e$units < e$most)
  if (length(at)) out[at] <- chance_at_size(columns_at(e, at), e$most[at], alpha[at], band[at, , drop = FALSE]) < 0.05
  out
}
