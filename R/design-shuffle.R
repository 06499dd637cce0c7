# Which arm runs when: plans are data.

#' Order of the arms in each block
#'
#' @param arms Character vector.
#' @param blocks Number of blocks.
#' @param order `shuffled` (anew in each block), `mirrored` (there and back),
#'   `balanced` (every arm follows every other equally often) or `fixed`.
#' @param seed Integer.
#' @return Data frame `block`, `arm`, in running order.
#' @references Williams (1949), Australian Journal of Scientific Research A 2,
#'   149-168 (balanced for carry-over).
#' @noRd
arm_schedule <- function(arms, blocks, order = "shuffled", seed = NULL) {
  draw <- function() {
    square <- if (order == "balanced") carry_over_square(length(arms))
    if (!is.null(square)) arms <- sample(arms)
    one <- function(b) {
      switch(order,
        shuffled = sample(arms),
        mirrored = if (b %% 2) arms else rev(arms),
        balanced = arms[square[(b - 1) %% nrow(square) + 1, ]],
        fixed = arms
      )
    }
    data.frame(block = rep(seq_len(blocks), each = length(arms)), arm = unlist(lapply(seq_len(blocks), one)))
  }
  if (is.null(seed)) draw() else seeded(seed, draw())
}

#' Rows in which each number follows each other one equally often
#'
#' An even number of arms needs as many rows as arms, an odd one twice as many.
#' @noRd
carry_over_square <- function(n) {
  steps <- seq_len(n - 1)
  first <- c(0, ifelse(steps %% 2 == 1, (steps + 1) / 2, n - steps / 2))
  square <- t(vapply(seq_len(n) - 1, function(shift) (first + shift) %% n + 1, numeric(n)))
  if (n %% 2 == 0) square else rbind(square, square[, rev(seq_len(n))])
}
