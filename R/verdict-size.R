# How many units would settle what is not clear, for many comparisons at once.

#' Units per arm until an answer other than `unclear`
#'
#' Those of a fresh batch that is weighed alone; where the units at hand go on counting, as many more. Searched on the
#' chance itself; the chance rises with the number of units except for steps that do not matter here.
#' @param e From `new_estimate()`. @param alpha,band As in `chance_at_size()`.
#' @return One count a comparison, `Inf` where `most` would not be enough.
#' @noRd
units_to_answer <- function(e, alpha, band, power = 0.8, most = 1e5) {
  least <- pmax(2, e$have + 1)
  out <- rep(Inf, length(alpha))
  # no effect without a band, or passes that do not differ at all (rounded away)
  able <- which(!(e$estimate == 0 & is.na(band[, 1])) & at_size(e, least, alpha)$se > 0)
  e <- columns_at(e, able)
  alpha <- alpha[able]
  band <- band[able, , drop = FALSE]
  reached <- function(at, n) {
    chance_at_size(columns_at(e, at), n, alpha[at], band[at, , drop = FALSE]) >= power
  }
  guess <- pmin(most, pmax(least[able], likely_units(e, alpha, band, power)))
  found <- bracket_units(guess, reached, most, least[able])
  repeat {
    at <- which(is.finite(found$high) & found$high - found$low > 1)
    if (!length(at)) break
    middle <- (found$low[at] + found$high[at]) %/% 2
    yes <- reached(at, middle)
    found$high[at[yes]] <- middle[yes]
    found$low[at[!yes]] <- middle[!yes]
  }
  out[able] <- found$high - e$have
  out
}

# numbers that do not reach and numbers that do, from good guesses on by growing strides
bracket_units <- function(guess, reached, most, least) {
  high <- guess
  low <- least - 1
  well <- reached(seq_along(guess), guess)
  stride <- 1.03
  at <- which(well & high > least)
  while (length(at)) {
    nearer <- pmax(least[at], pmin(high[at] - 1, floor(high[at] / stride)))
    yes <- reached(at, nearer)
    high[at[yes]] <- nearer[yes]
    low[at[!yes]] <- nearer[!yes]
    at <- at[yes & high[at] > least[at]]
    stride <- min(stride^3, 8)
  }
  stride <- 1.03
  at <- which(!well)
  while (length(at)) {
    low[at] <- high[at]
    high[at] <- ifelse(low[at] >= most, Inf, pmin(most, ceiling(low[at] * stride)))
    at <- at[is.finite(high[at])]
    at <- at[!reached(at, high[at])]
    stride <- min(stride^3, 8)
  }
  list(low = low, high = high)
}

#' About the number that is looked for: where the search begins
#' @references Guenther (1981), The American Statistician 35, 243-244 (what t asks for beyond the normal quantile).
#' @noRd
likely_units <- function(e, alpha, band, power) {
  distance <- pmax(abs(e$estimate), pmin(e$estimate - band[, 1], band[, 2] - e$estimate), na.rm = TRUE)
  z <- stats::qnorm(1 - alpha / 2)
  ceiling(e$units * ((z + stats::qnorm(power)) * e$se / distance)^2 + ifelse(e$df_each > 0, z^2 / 2 / e$df_each, 0))
}
