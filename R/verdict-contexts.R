# Is the change the same in two contexts?

#' The difference of two changes
#'
#' Where both contexts ran in the same blocks, the difference of the log ratios inside each block, and t over blocks;
#' else the two changes are independent and their errors add up (Satterthwaite).
#' @param one,other Data frames of counted passes of the two contexts: `arm`, `block`, `order`, `boot`, `y`.
#' @return A list `estimate`, `se`, `df` (of the change in `other` less that in `one`; `NA` where one of them has no
#'   basis), `same_blocks`.
#' @noRd
change_between <- function(one, other, arm, baseline) {
  d <- lapply(list(one, other), function(rows) {
    m <- block_matrix(rows, c(arm, baseline))
    if (!is.null(m)) stats::na.omit(m[, arm] - m[, baseline])
  })
  shared <- intersect(names(d[[1]]), names(d[[2]]))
  if (length(shared) > 1) {
    gap <- d[[2]][shared] - d[[1]][shared]
    n <- length(gap)
    return(list(estimate = mean(gap), se = stats::sd(gap) / sqrt(n), df = n - 1, same_blocks = TRUE))
  }
  each <- lapply(list(one, other), one_change, arm = arm, baseline = baseline)
  se <- vapply(each, `[[`, 1, "se")
  df <- vapply(each, `[[`, 1, "df")
  list(
    estimate = each[[2]]$estimate - each[[1]]$estimate, se = sqrt(sum(se^2)),
    df = sum(se^2)^2 / sum(se^4 / df), same_blocks = FALSE
  )
}
