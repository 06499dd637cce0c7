# Is the change the same in two contexts?

#' The difference of two changes
#'
#' Where both contexts ran in the same blocks, the difference of the log ratios inside each block, and t over blocks;
#' else the two changes are independent and their errors add up (Satterthwaite). The variances are those of verdicts.
#' @param one,other Data frames of counted passes of the two contexts: `arm`, `block`, `order`, `boot`, `y`.
#' @param gap From `context_gap()`, with its `priors`; `NULL` where they share no two blocks.
#' @param cells Of each context from `describe_cell()` with its `priors`.
#' @return A list `estimate`, `se`, `df` (of the change in `other` less that in `one`; `NA` where one of them has no
#'   basis), `same_blocks`.
#' @noRd
change_between <- function(one, other, arm, baseline, gap, cells) {
  together <- if (!is.null(gap)) change_in_blocks(gap, arm, baseline)
  if (!is.null(together)) {
    return(c(lapply(together[c("estimate", "se", "df")], unname), same_blocks = TRUE))
  }
  each <- Map(function(rows, cell) {
    found <- if (isTRUE(cell$by_block)) change_in_blocks(cell, arm, baseline)
    if (is.null(found)) one_change(take_rows(rows, which(rows$arm %in% c(arm, baseline))), arm, baseline) else found
  }, list(one, other), cells)
  se <- vapply(each, `[[`, 1, "se")
  df <- vapply(each, `[[`, 1, "df")
  list(
    estimate = each[[2]]$estimate - each[[1]]$estimate, se = sqrt(sum(se^2)),
    df = sum(se^2)^2 / sum(se^4 / df), same_blocks = FALSE
  )
}

# the change of one cell inside its blocks; `NULL` where no two of them hold both arms
change_in_blocks <- function(cell, arm, baseline) {
  means <- cell$means
  if (!all(c(arm, baseline) %in% colnames(means)) || sum(!is.na(means[, arm] + means[, baseline])) < 2) {
    return(NULL)
  }
  steadied(estimate_in_blocks(means, cell$lay$passes, arm, baseline), means, arm, colnames(means), baseline, cell)
}

#' One context less the other in every block that both ran in, as a cell of its own
#' @param cells As in `change_between()`.
#' @return A list as `describe_cell()` gives, as far as `with_priors()` needs it; `NULL` where they share no two blocks.
#' @noRd
context_gap <- function(one, other, arms, cells) {
  m <- lapply(list(one, other), block_matrix, arms = arms)
  shared <- intersect(rownames(m[[1]]), rownames(m[[2]]))
  if (length(shared) < 2) {
    return(NULL)
  }
  means <- m[[2]][shared, , drop = FALSE] - m[[1]][shared, , drop = FALSE]
  list(
    first = lapply(one[c("workload", "segment", "context", "metric", "scale")], `[`, 1), role = "primary",
    means = means, lay = list(passes = ifelse(is.na(means), 0L, 1L)), by_block = TRUE,
    all_in_blocks = !anyNA(means) && all(unlist(lapply(cells, `[[`, "all_in_blocks"))),
    firsts = unlist(lapply(cells, `[[`, "firsts")),
    order_finding = unlist(lapply(cells, `[[`, "order_finding"), recursive = FALSE)
  )
}
