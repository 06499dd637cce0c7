# In which order the arms of a screening run, and what its design mixes up.

#' @return Data frame `block`, `arm`, in running order.
#' @noRd
screen_order <- function(plan, blocks, order, seed) {
  arms <- plan_arms(plan)
  restarts <- vapply(plan$screen$options, `[[`, NA, "restart")
  one <- if (is_together(plan)) {
    function() in_few_restarts(screen_levels(plan)[, restarts, drop = FALSE], arms)
  } else {
    function() around_start(arms)
  }
  draw <- function() {
    each <- lapply(seq_len(blocks), function(b) data.frame(block = b, arm = if (order == "fixed") arms else one()))
    do.call(rbind, each)
  }
  if (is.null(seed)) draw() else seeded(seed, draw())
}

# one option at a time, the start between: as many of it as the root of their number, one in each stretch of the block
# and nowhere always first, or what comes first would be told of the start
around_start <- function(arms) {
  options <- sample(arms[-1])
  times <- max(1, round(sqrt(length(options))))
  at <- split(options, sort(rep_len(seq_len(times), length(options))))
  unlist(lapply(at, function(group) sample(c(arms[1], group))), use.names = FALSE)
}

# runs with the same levels of what needs a restart stand together
in_few_restarts <- function(levels, arms) {
  if (!ncol(levels)) {
    return(sample(arms))
  }
  pattern <- apply(levels, 1, paste, collapse = "")
  groups <- split(arms, factor(pattern, sample(unique(pattern))))
  unlist(lapply(groups, function(g) g[sample.int(length(g))]), use.names = FALSE)
}

#' With which pairs of options each option's effect is mixed up
#' @param levels From `screen_levels()`.
#' @return Data frame `option`, `pair` (text), `share` (of the pair's effect that goes into the option's).
#' @noRd
screen_aliases <- function(levels) {
  x <- 1 - 2 * levels
  names <- colnames(levels)
  pairs <- utils::combn(length(names), 2)
  rows <- lapply(seq_along(names), function(j) {
    share <- apply(pairs, 2, function(p) if (j %in% p) 0 else mean(x[, j] * x[, p[1]] * x[, p[2]]))
    hit <- which(abs(share) > 1e-9)
    data.frame(
      option = rep(names[j], length(hit)), share = abs(share[hit]),
      pair = paste(names[pairs[1, hit]], "with", names[pairs[2, hit]], recycle0 = TRUE)
    )
  })
  do.call(rbind, rows)
}
