# A column of times beside one of what lies between them: they settle each other.

# Durations that repeat the steps between timestamps settle which column it is,
# and often the unit too.
matching_pair <- function(sample, kinds, stamps, times) {
  hits <- list()
  for (s in stamps) {
    for (d in times) {
      step <- diff(sample$values[, sample$columns[s]])
      value <- sample$values[, sample$columns[d]]
      grain <- written_grain(sample$values[, sample$columns[s]])
      for (lag in 0:1) {
        lasts <- value[seq_along(step) + lag]
        factor <- stats::median(step / lasts, na.rm = TRUE)
        scale <- 10^round(log10(factor))
        # times may be written more coarsely than what lies between them
        coarse <- if (4 * grain < stats::median(step, na.rm = TRUE)) 1.001 * grain else 0
        near <- pmax(0.02 * lasts * scale, coarse)
        if (is.finite(scale) && mean(abs(step - lasts * scale) < near, na.rm = TRUE) >= 0.9) {
          unit <- intersect(kinds[[d]]$units, names(layout_units)[match_unit(kinds[[s]]$units, scale)])
          hits <- c(hits, list(list(column = d, unit = unit)))
        }
      }
    }
  }
  columns <- unique(vapply(hits, `[[`, 1L, "column"))
  if (length(columns) != 1) {
    return(NULL)
  }
  structure(columns, unit = hits[[1]]$unit)
}

# the last place that numbers are written to
written_grain <- function(v) {
  v <- v[is.finite(v)]
  for (grain in 10^(0:-6)) {
    if (all(abs(v / grain - round(v / grain)) < 1e-4)) {
      return(grain)
    }
  }
  0
}

# durations are `scale` times finer than the timestamps' own unit
match_unit <- function(stamp_units, scale) {
  wanted <- layout_units[stamp_units] * scale
  vapply(layout_units, function(u) any(abs(wanted / u - 1) < 1e-6), NA)
}
