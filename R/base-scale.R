# The scale of analysis and the scale on which differences are shown.

to_analysis <- function(value, scale) if (scale == "percent") log(value) else value
to_shown <- function(difference, scale) {
  percent <- rep_len(scale == "percent", length(difference))
  difference[percent] <- 100 * expm1(difference[percent])
  difference
}
from_analysis <- function(y, scale) {
  percent <- rep_len(scale == "percent", length(y))
  y[percent] <- exp(y[percent])
  y
}
to_analysis_noise <- function(noise, scale) if (scale == "percent") log1p(noise / 100) else noise

#' How far behind another an arm lies that is so much worse on the scale of analysis: in percent of the other
#' @param worse The better less the worse, direction taken out. @param better Of the metric.
#' @noRd
behind_by <- function(worse, scale, better) {
  if (scale != "percent") worse else if (better == "lower") 100 * expm1(worse) else -100 * expm1(-worse)
}
