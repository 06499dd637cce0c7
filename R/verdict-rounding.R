# Readings are rounded, and their rounding is part of what is not known.

#' How coarse a set of readings is: the step they all fall on, 0 if none
#'
#' The decimal step, or where readings repeat, as those of a counter do, the smallest gap
#' between them if all gaps are multiples of it. Zeros tell nothing of it: an amount of none is exact.
#' @noRd
resolution <- function(value) {
  value <- value[value != 0]
  if (length(value)) max(decimal_step(value), counter_step(value)) else 0
}

counter_step <- function(value) {
  if (!anyDuplicated(value)) {
    return(0)
  }
  seen <- unique(signif(value, 9))
  if (length(value) < 4 || length(seen) < 2 || length(seen) > length(value) / 2) {
    return(0)
  }
  seen <- seen[order(seen)]
  gap <- diff(seen)
  # two values have one gap whatever they are: a counter that made them counts in it from zero
  if (length(seen) == 2 && any(abs(seen / gap - round(seen / gap)) > 0.02)) {
    return(0)
  }
  steps <- gap / min(gap)
  if (all(abs(steps - round(steps)) < 0.02)) min(gap) else 0
}

decimal_step <- function(value) {
  slack <- 1e-9 * pmax(1, abs(value))
  for (places in 0:6) {
    if (all(abs(value - round(value, places)) <= slack)) {
      return(10^-places)
    }
  }
  0
}

# When passes vary by less than half a step, rounding no longer averages out:
# each mean may be off by half a step, so the interval is at least that wide.
rounding_error <- function(step, found, scale) {
  size <- if (scale == "percent") exp(c(found$mean_arm, found$mean_baseline)) else c(1, 1)
  relative <- step / size
  if (step == 0 || found$sd >= mean(relative) / 2) 0 else mean(relative)
}
