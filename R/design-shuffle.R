# Which arm runs when: plans are data.

#' Order of the arms in each block
#'
#' @param arms Character vector. @param blocks Number of blocks.
#' @param order `shuffled` (anew in each block), `mirrored` (there and back) or `fixed`.
#' @param seed Integer.
#' @return Data frame `block`, `arm`, in running order.
#' @noRd
arm_schedule <- function(arms, blocks, order = "shuffled", seed = NULL) {
  draw <- function() {
    one <- function(b) {
      switch(order,
        shuffled = sample(arms),
        mirrored = if (b %% 2) arms else rev(arms),
        fixed = arms
      )
    }
    data.frame(block = rep(seq_len(blocks), each = length(arms)), arm = unlist(lapply(seq_len(blocks), one)))
  }
  if (is.null(seed)) draw() else seeded(seed, draw())
}
