# Blocks whose passes do not run together are none: the order decides, whatever a column is called.

#' Readings without blocks that the order of their passes contradicts
#'
#' A number that repeats within each arm ("round 1" of the first arm in the morning, of the second in the evening) makes
#' no block: taken for one it parts the setting from time only by name (13 to 82 % of studies of one stint per arm were
#' "different" so). A block runs together while fewer passes of other blocks lie between its first and its last than it
#' has itself; where most do not, there are none. One that was gone back for later stays.
#' @param x Readings, their columns filled.
#' @return A list: `rows`, and `findings`.
#' @noRd
blocks_in_time <- function(x) {
  passes <- which(!duplicated(pass_key(x)) & !is.na(x$block) & !is.na(x$order))
  apart <- character()
  for (at in split(passes, joint_code(x$workload[passes], x$context[passes]))) {
    if (mostly_apart(x$block[at], x$order[at])) apart <- c(apart, unique(pass_key(x)[at]))
  }
  if (!length(apart)) {
    return(list(rows = x, findings = NULL))
  }
  x$block[pass_key(x) %in% apart] <- NA_character_
  list(rows = x, findings = new_finding("warning", "blocks_apart"))
}

mostly_apart <- function(block, order) {
  each <- split(order, block)
  if (length(each) < 2 || any(lengths(each) < 2) && all(lengths(each) < 2)) {
    return(FALSE)
  }
  between <- vapply(each, function(of) sum(order > min(of) & order < max(of)) - sum(of > min(of) & of < max(of)), 1L)
  mean(between >= lengths(each)) > 0.5
}
