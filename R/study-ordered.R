# Settings whose values have an order: the trend of every workload, and its plateau.

trend_of_cells <- function(cells, spec) {
  alpha <- family_alpha(spec$confidence, max(1, length(cells)))
  stack_rows(lapply(cells, function(cell) {
    arms <- intersect(spec$arms, cell$arm)
    scale <- arm_scale(arms)
    y <- block_matrix(cell, arms)
    y <- if (!is.null(y)) y[stats::complete.cases(y), , drop = FALSE]
    if (is.null(scale) || NROW(y) < 2) {
      return(NULL)
    }
    found <- trend_of(y, scale$x)
    place <- place_of(cell)
    half <- t_reach(alpha, found$df) * found$se
    range <- interval_about(found$estimate, half, function(y) to_shown(y, place$scale))
    data.frame(
      place,
      step = scale$step, blocks = found$units, change = to_shown(found$estimate, place$scale),
      lower = range$lower, upper = range$upper, verdict = verdict_word(range$lower, range$upper, cell$better[1], NA)
    )
  }))
}

plateau_of_cells <- function(cells, spec) {
  stack_rows(lapply(cells, function(cell) {
    place <- place_of(cell)
    arms <- intersect(spec$arms, cell$arm)
    worth <- worth_of(place$metric, spec$worth)
    if (is.null(arm_scale(arms)) || is.na(worth) || worth <= 0) {
      return(NULL)
    }
    arms <- arms[order(as.numeric(arms))]
    steps <- plateau_of(cell, arms, cell$better[1], min(abs(worth_band(worth, place$scale))))
    if (!nrow(steps)) {
      return(NULL)
    }
    stays <- steps$arm[steps$stays]
    fails <- steps[!steps$stays, , drop = FALSE]
    data.frame(
      place,
      worth = worth, from = if (length(stays)) stays[length(stays)] else NA_character_,
      fails = if (nrow(fails)) fails$arm else NA_character_,
      bound = if (nrow(fails)) behind_by(-fails$bound, place$scale, cell$better[1]) else NA_real_,
      against = if (nrow(fails)) fails$against else NA_character_
    )
  }))
}
