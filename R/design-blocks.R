# Every arm runs once, or a few times, in each block: it is compared with the
# baseline inside the same block.

design_blocks <- function(rows, key, unit = "pass") {
  inside <- key %in% both_present(key[!is.na(key)], rows$arm[!is.na(key)])
  repeated <- anyDuplicated(paste(key[inside], rows$arm[inside])) > 0
  new_design("blocks", if (unit == "pass" && repeated) "block" else unit, by = ifelse(inside, key, NA))
}

register("design", "blocks", rank = 20, recognise = function(rows, arm, baseline, one_way) {
  if (all(is.na(rows$block)) || length(unique(rows$block)) < 2) {
    return(NULL)
  }
  known <- !is.na(rows$block)
  shared <- both_present(rows$block[known], rows$arm[known])
  if (!length(shared) && belong_to_one_arm(rows$block[known], rows$arm[known])) {
    # blocks that hold one arm each, one arm's before the other's, are stints in disguise
    in_time <- design_from_order(rows, arm, baseline)
    if (identical(in_time$kind, "stints")) {
      return(in_time)
    }
    return(design_groups(rows, arm, baseline, rows$block, "block"))
  }
  if (length(shared) < 2) {
    return(no_design(new_code("one_shared_block", arm = arm, baseline = baseline)))
  }
  design_blocks(rows, rows$block)
})

#' @export
estimate.honestmargin_design_blocks <- function(design, rows, arm, baseline, stored = NULL, alpha = 0.05) {
  lay <- lay_in_blocks(design$by, rows$arm)
  estimate_in_blocks(block_means(lay, rows$y), lay$passes, arm, baseline)
}

#' Which pass lies in which block
#' @param by Block of each pass, `NA` where it lies in none. @param arm Of each.
#' @return A list: `at` (each pass's place in a matrix, blocks by arms), `passes` (that matrix, how many lie there),
#'   `inside` (which passes lie in a block).
#' @noRd
lay_in_blocks <- function(by, arm) {
  inside <- which(!is.na(by))
  blocks <- unique(by[inside])
  arms <- unique(arm)
  at <- match(by[inside], blocks) + (match(arm[inside], arms) - 1L) * length(blocks)
  passes <- matrix(
    tabulate(at, length(blocks) * length(arms)), length(blocks),
    dimnames = list(as.character(blocks), arms)
  )
  list(at = at, passes = passes, inside = inside)
}

#' The mean of every block and arm
#' @param lay From `lay_in_blocks()`. @param y One value a pass.
#' @return Matrix, blocks by arms, `NA` where an arm has no pass in a block.
#' @noRd
block_means <- function(lay, y) {
  out <- lay$passes + NA_real_
  y <- y[lay$inside]
  if (all(lay$passes <= 1)) {
    out[lay$at] <- y
  } else {
    each <- split(y, lay$at)
    # means of their own, so that passes that are all alike stay exactly so
    out[as.integer(names(each))] <- vapply(each, mean, 1)
  }
  out
}

#' Arms against one, inside the blocks that both have passes in
#'
#' Each arm has its own noise, so each contrast uses only its own differences: a variance pooled over arms is false in
#' up to 14 % when one arm is noisier.
#' @param means From `block_means()`. @param passes How many there are behind each. @param arms Names of columns.
#' @return From `new_estimate()`, one element an arm.
#' @noRd
estimate_in_blocks <- function(means, passes, arms, baseline) {
  one <- means[, arms, drop = FALSE]
  d <- one - means[, baseline]
  shared <- !is.na(d)
  n <- colSums(shared)
  mean_of <- function(x) colSums(ifelse(shared, x, 0)) / n
  estimate <- mean_of(d)
  # a second time, since what is lost in a sum must not look like noise
  estimate <- estimate + mean_of(d - rep(estimate, each = nrow(d)))
  each <- colSums(ifelse(shared, d - rep(estimate, each = nrow(d)), 0)^2) / (n - 1)
  end <- function(of, none) apply(ifelse(shared, d, none), 2, of)
  new_estimate(
    swing = unname(end(max, -Inf) - end(min, Inf)),
    estimate = unname(estimate), se = unname(sqrt(each / n)), df = unname(n - 1), sd = unname(sqrt(each / 2)),
    mean_arm = unname(mean_of(one)),
    mean_baseline = unname(mean_of(matrix(means[, baseline], nrow(d), ncol(d)))),
    n_arm = unname(colSums(passes[, arms, drop = FALSE] * shared)),
    n_baseline = unname(colSums(passes[, baseline] * shared)), units = unname(n),
    each = unname(each), df_fixed = -1, df_each = 1
  )
}

#' There and back with three arms or more: which arm came first in each block
#'
#' The arms in the middle never come first, so a first pass of a block that is slow (a machine that rested, a cache that
#' is cold) is told of the two at the ends alone: 20 to 29 % false at 3 %.
#' @param rows Counted passes of one cell: `arm`, `block`, `order`.
#' @return Character named by block; `NULL` where blocks do not go there and back.
#' @noRd
firsts_of_mirrored <- function(rows) {
  if (length(unique(rows$arm)) < 3 || anyNA(rows$block) || anyNA(rows$order)) {
    return(NULL)
  }
  at <- order(rows$order)
  each <- split(rows$arm[at], factor(rows$block[at], unique(rows$block)))
  if (length(each) < 2) {
    return(NULL)
  }
  there <- each[[1]]
  same <- vapply(each, identical, NA, there)
  back <- vapply(each, identical, NA, rev(there))
  if (!anyDuplicated(there) && any(back) && all(same | back)) vapply(each, `[`, "", 1L)
}

#' Estimates in blocks as wide as being first in a block may make them
#'
#' What being first brings and a drift within the block change both the difference between blocks that go there and
#' those that come back, and no calculation parts them: taking one out would put the other in (11 % false under
#' warming). So all of that difference is taken to come of being first, and its share in the mean, with its error, is
#' added to the interval. Where a drift hides what being first does, nothing shows it: `order: balanced` does not have
#' that weakness.
#' @param e From `estimate_in_blocks()`, `means` and `arms` as there. @param firsts From `firsts_of_mirrored()`.
#' @noRd
widen_for_firsts <- function(e, means, arms, baseline, firsts, alpha) {
  first <- firsts[rownames(means)]
  e$extra <- rep_len(e$extra, length(arms))
  for (i in seq_along(arms)) {
    d <- means[, arms[i]] - means[, baseline]
    there <- first == first[1]
    z <- (first == arms[i]) - (first == baseline)
    use <- !is.na(d)
    n <- c(sum(use & there), sum(use & !there))
    if (min(n) == 0 || sum(n) < 3) {
      e$df[i] <- NA_real_
      next
    }
    apart <- z[there][1] - z[!there][1]
    if (apart == 0) next
    two <- list(d[use & there], d[use & !there])
    gap <- mean(two[[1]]) - mean(two[[2]])
    left <- sum((two[[1]] - mean(two[[1]]))^2) + sum((two[[2]] - mean(two[[2]]))^2)
    df <- sum(n) - 2
    error <- t_reach(alpha, df) * sqrt(left / df * sum(1 / n))
    e$extra[i] <- abs(mean(z[use]) / apart) * (abs(gap) + error)
  }
  e
}
