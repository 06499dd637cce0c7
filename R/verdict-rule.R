# From an interval to a word. First rule that fits.

#' All that a verdict can be; `moved` is a difference that nobody asked about, `does not hold` an arm that never ended
#' well
#' @noRd
verdict_words <- c(
  "clear gain", "clear loss", "negligible", "gain", "loss", "unclear", "moved", "blocked", "no basis", "does not hold"
)

#' Verdict words
#'
#' @param lower,upper The interval, as measured.
#' @param better `higher` or `lower`.
#' @param worth The smallest change worth having (>= 0, `NA` for none), same scale.
#' @return Character vector: `clear gain`, `clear loss`, `negligible`, `gain`,
#'   `loss` or `unclear`.
#' @noRd
verdict_word <- function(lower, upper, better, worth) {
  falls <- rep_len(better == "lower", length(lower))
  l <- ifelse(falls, -upper, lower)
  u <- ifelse(falls, -lower, upper)
  w <- ifelse(is.na(worth), 0, worth)
  word <- rep("unclear", length(l))
  word[u < 0] <- "loss"
  word[l > 0] <- "gain"
  word[w > 0 & -w <= l & u <= w] <- "negligible"
  word[w > 0 & u < -w] <- "clear loss"
  word[w > 0 & l > w] <- "clear gain"
  word
}

#' The word for a difference that nobody asked about
#'
#' Many are looked at, each by itself, so some differ by chance: they moved, and are no gain or loss.
#' @noRd
unasked_word <- function(word, role) {
  ifelse(role == "exploratory" & word %in% c("gain", "loss", "clear gain", "clear loss"), "moved", word)
}

#' What may still be said when one arm is held at a ceiling
#'
#' The held arm would be better than it measured, so the change is a bound to one
#' side: only an answer in that direction stands.
#' @param held `"arm"` or `"baseline"`.
#' @noRd
verdict_bound <- function(word, held) {
  stands <- if (held == "arm") c("gain", "clear gain") else c("loss", "clear loss")
  if (word %in% stands) word else "unclear"
}

worth_band <- function(worth, scale) {
  if (!is.na(worth) && worth > 0) as.vector(worth_bands(worth, scale))
}

#' The same of many, in two columns, `NA` where there is none
#' @noRd
worth_bands <- function(worth, scale) {
  worth[which(worth <= 0)] <- NA_real_
  percent <- scale == "percent"
  side <- function(sign) ifelse(percent, log(pmax(0, 1 + sign * worth / 100)), sign * worth)
  cbind(side(-1), side(1))
}

#' The worth of metrics, `NA` where none is named
#' @param worth Named by metric, or `NULL`.
#' @noRd
worth_of <- function(metric, worth) {
  if (is.null(worth)) rep(NA_real_, length(metric)) else unname(worth[match(metric, names(worth))])
}
