# What is left of values when arms and blocks, which add up, are taken out.

#' Arms and blocks as an additive model
#'
#' Blocks are taken off by their means and only the arms are fitted (Frisch and Waugh), since a study may have a
#' thousand blocks.
#' @param arm,block Of each pass; `block` `NULL` for none.
#' @return A list: `left(x)` (residuals of values), `rank` of the model, `leverage()` of each pass.
#' @references Frisch and Waugh (1933), Econometrica 1, 387-401; Lovell (1963), Journal of the American Statistical
#'   Association 58, 993-1010.
#' @noRd
additive_model <- function(arm, block = NULL) {
  by <- if (is.null(block)) rep(1L, length(arm)) else match(block, unique(block))
  of <- match(arm, unique(arm))
  if (is.null(block) || all(table(of, by) == 1)) {
    return(balanced_model(of, by))
  }
  size <- tabulate(by)
  within <- function(x) x - (rowsum(x, by) / size)[by, , drop = FALSE]
  arms <- qr(within(outer(arm, unique(arm)[-1], "==") + 0))
  list(
    left = function(x) qr.resid(arms, as.vector(within(matrix(x)))), rank = length(size) + arms$rank,
    leverage = function() 1 / size[by] + rowSums(qr.qy(arms, diag(1, length(arm), arms$rank))^2)
  )
}

# every arm once in every block, or no blocks: means are all there is to work out, however many arms there are
balanced_model <- function(of, by) {
  each <- tabulate(of)[of]
  blocks <- max(by)
  list(
    left = function(x) {
      x <- as.vector(x)
      x - stats::ave(x, of) - if (blocks > 1) stats::ave(x, by) - mean(x) else 0
    },
    rank = max(of) + blocks - 1,
    leverage = function() 1 / each + if (blocks > 1) 1 / max(of) - 1 / length(of) else 0
  )
}
