# The scale of analysis and the scale on which differences are shown.

to_analysis <- function(value, scale) if (scale == "percent") log(value) else value
to_shown <- function(difference, scale) {
  if (scale == "percent") 100 * expm1(difference) else difference
}
to_analysis_noise <- function(noise, scale) if (scale == "percent") log1p(noise / 100) else noise
