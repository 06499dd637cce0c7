# Blind pairs: an order that nobody can know beforehand, and that cannot be changed afterwards.

#' The passes of a plan as pairs, in an order that coins decide
#'
#' Each workload of a block is a pair: its two passes stand next to each other, and a coin of its own decides which arm
#' comes first. Ids and starts are given anew, so that they tell nothing: the first of a pair has an odd start.
#' @param schedule From `plan_schedule()`. @param arms Both.
#' @param coin Function of what it decides (vectors of one length): `TRUE` or `FALSE` for each.
#' @noRd
blind_schedule <- function(schedule, arms, coin) {
  ids <- schedule$pass
  positions <- schedule$position
  warm <- schedule[schedule$role == "warm_up", , drop = FALSE]
  # the same arm each time would show what it is like
  if (nrow(warm)) warm$arm <- arms[1 + coin(paste("warm-up", seq_len(nrow(warm))))]
  warm$start <- rep(0L, nrow(warm))
  counted <- schedule[schedule$role != "warm_up", , drop = FALSE]
  place <- match(counted$block, unique(counted$block)) * 1e6 + match(counted$workload, unique(schedule$workload))
  later <- (counted$arm == arms[2]) != coin(counted$block, counted$workload)
  counted <- counted[order(place, later), , drop = FALSE]
  counted$start <- seq_len(nrow(counted))
  out <- rbind(warm, counted)
  out$pass <- ids
  out$position <- positions
  rownames(out) <- NULL
  out
}
