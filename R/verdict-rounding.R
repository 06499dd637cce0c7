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

#' The steps of two arms together, one comparison each
#' @param arms Which arms, each with `baseline`.
#' @noRd
steps_of_pairs <- function(value, of_arm, arms, baseline) {
  if (anyDuplicated(value)) {
    return(vapply(arms, function(arm) resolution(value[c(of_arm[[arm]], of_arm[[baseline]])]), 1, USE.NAMES = FALSE))
  }
  # no counter repeats no value, and the finer of two decimal steps holds both
  own <- vapply(of_arm[c(arms, baseline)], function(at) {
    value <- value[at]
    if (all(value == 0)) Inf else decimal_step(value[value != 0])
  }, 1, USE.NAMES = FALSE)
  step <- pmin(own[seq_along(arms)], own[length(own)])
  ifelse(is.finite(step), step, 0)
}

# When passes vary by less than half a step, rounding no longer averages out:
# each mean may be off by half a step, so the interval is at least that wide.
rounding_error <- function(step, e, scale) {
  one <- function(mean) step / ifelse(scale == "percent", exp(mean), 1)
  relative <- (one(e$mean_arm) + one(e$mean_baseline)) / 2
  ifelse(step == 0 | e$sd >= relative / 2, 0, relative)
}
