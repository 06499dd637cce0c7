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
  chance <- function(at, n) chance_at_size(columns_at(e, at), n, alpha[at], band[at, , drop = FALSE])
  guess <- pmin(most, pmax(least[able], likely_units(e, alpha, band, power)))
  out[able] <- narrow_units(bracket_units(guess, chance, power, most, least[able]), chance, power) - e$have
  out
}

# numbers that do not reach and numbers that do, with their chances; from good guesses on by growing strides
bracket_units <- function(guess, chance, power, most, least) {
  found <- list(low = least - 1, high = guess, below = rep(0, length(guess)), above = chance(seq_along(guess), guess))
  stride <- 1.03
  at <- which(found$above >= power & guess > least)
  while (length(at)) {
    nearer <- pmax(least[at], pmin(found$high[at] - 1, floor(found$high[at] / stride)))
    found <- close_in(found, at, nearer, chance, power)
    at <- at[found$high[at] == nearer & nearer > least[at]]
    stride <- min(stride^3, 8)
  }
  stride <- 1.03
  at <- which(found$above < power)
  while (length(at)) {
    found$low[at] <- found$high[at]
    found$below[at] <- found$above[at]
    found$high[at] <- ifelse(found$low[at] >= most, Inf, pmin(most, ceiling(found$low[at] * stride)))
    at <- at[is.finite(found$high[at])]
    found$above[at] <- chance(at, found$high[at])
    at <- at[found$above[at] < power]
    stride <- min(stride^3, 8)
  }
  found
}

# to the smallest number that reaches, along the line between both chances, every third time in the middle
narrow_units <- function(found, chance, power) {
  turn <- 1
  repeat {
    at <- which(is.finite(found$high) & found$high - found$low > 1)
    if (!length(at)) {
      return(found$high)
    }
    low <- found$low[at]
    high <- found$high[at]
    share <- if (turn %% 3 > 0) (power - found$below[at]) / (found$above[at] - found$below[at]) else 0.5
    middle <- pmax(low + 1, pmin(high - 1, low + ceiling(share * (high - low))))
    found <- close_in(found, at, middle, chance, power)
    turn <- turn + 1
  }
}

# a number between both ends becomes one of them
close_in <- function(found, at, n, chance, power) {
  now <- chance(at, n)
  yes <- now >= power
  found$high[at[yes]] <- n[yes]
  found$above[at[yes]] <- now[yes]
  found$low[at[!yes]] <- n[!yes]
  found$below[at[!yes]] <- now[!yes]
  found
}

#' About the number that is looked for: where the search begins
#' @references Guenther (1981), The American Statistician 35, 243-244 (what t asks for beyond the normal quantile).
#' @noRd
likely_units <- function(e, alpha, band, power) {
  distance <- pmax(abs(e$estimate), pmin(e$estimate - band[, 1], band[, 2] - e$estimate), na.rm = TRUE)
  z <- stats::qnorm(1 - alpha / 2)
  ceiling(e$units * ((z + stats::qnorm(power)) * e$se / distance)^2 + ifelse(e$df_each > 0, z^2 / 2 / e$df_each, 0))
}
