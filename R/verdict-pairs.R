# Which arms are compared with which: all with the baseline, each with each, or those that differ in one thing.

#' Which arms are compared with which, in each cell
#'
#' All of them, where a plan crosses them all. A table may hold arms that ran in some contexts
#' only: there those that ran are compared, and where the baseline did not, with the first of them.
#' @param spec As in `weigh_cells()`; `pairs` is `NULL`, or a list of sets that stand for every cell, or a function of
#'   the arms that ran in a cell.
#' @return A list, one element a cell: a list of sets, each `arms` and the `baseline` that they are compared with.
#' @noRd
compared_arms <- function(table, cells, spec) {
  pairs <- if (is.function(spec$pairs)) spec$pairs(spec$arms) else spec$pairs
  all <- empty_to(pairs, list(list(arms = setdiff(spec$arms, spec$baseline), baseline = spec$baseline)))
  if (spec$planned || all(is.na(table$context))) {
    return(rep(list(all), length(cells)))
  }
  place <- paste(table$workload, table$context, sep = "\r")
  ran <- lapply(split(table$arm, place), function(arms) intersect(spec$arms, arms))
  lapply(cells, function(cell) {
    here <- ran[[paste(cell$workload[1], cell$context[1], sep = "\r")]]
    if (is.null(spec$pairs)) {
      baseline <- if (spec$baseline %in% here) spec$baseline else here[1]
      return(list(list(arms = setdiff(here, baseline), baseline = baseline)))
    }
    if (is.function(spec$pairs)) {
      return(spec$pairs(here))
    }
    sets <- lapply(all, function(set) list(arms = intersect(set$arms, here), baseline = set$baseline))
    Filter(function(set) set$baseline %in% here && length(set$arms), sets)
  })
}

#' How many comparisons there are
#' @param compared From `compared_arms()`.
#' @noRd
count_contrasts <- function(compared) {
  sum(vapply(compared, function(sets) sum(lengths(lapply(sets, `[[`, "arms"))), 1L))
}

#' Every arm with every other, as sets
#'
#' The baseline comes first, so that it is what others are compared with wherever it is part of a pair.
#' @param differ `NULL`, or a function of two arms: whether this pair is asked for.
#' @noRd
all_pairs <- function(arms, baseline, differ = NULL) {
  arms <- c(baseline, setdiff(arms, baseline))
  sets <- lapply(seq_len(length(arms) - 1), function(i) {
    others <- arms[-seq_len(i)]
    if (!is.null(differ)) others <- Filter(function(other) differ(other, arms[i]), others)
    list(arms = others, baseline = arms[i])
  })
  Filter(function(set) length(set$arms), sets)
}

#' Pairs of arms that differ in exactly one attribute
#'
#' @param table From `attribute_table()`, one row per arm.
#' @noRd
attribute_pairs <- function(table, arms, baseline) {
  differ <- function(one, other) {
    at <- match(c(one, other), arms)
    sum(vapply(table, function(v) v[at[1]] != v[at[2]], NA)) == 1
  }
  all_pairs(arms, baseline, differ)
}

#' Each arm with the one before it, and the last with the first
#'
#' One thing after another was changed and kept: what each step brought, and what all of them did together.
#' @param arms In their order.
#' @noRd
step_pairs <- function(arms) {
  n <- length(arms)
  sets <- lapply(seq_len(n)[-1], function(i) list(arms = arms[i], baseline = arms[i - 1]))
  c(sets, if (n > 2) list(list(arms = arms[n], baseline = arms[1])))
}
