# In which order files were written, where their times can be believed, and which of them form rounds.

# programs that print or write results are seldom over in two seconds
seconds_of_output <- 2

#' @param rows Data frame with `arm` and `workload`, one row per file. @param time When each was written.
#' @param length How long each pass took, in seconds: steps of half of that at least show that the files were not merely
#'   copied.
#' @return `rows` with `order` and `block`, `NA` where the times do not tell.
#' @noRd
turns_by_time <- function(rows, time, length) {
  rows$order <- NA_real_
  rows$block <- NA_integer_
  # times in their names say more than when they were written
  if (!is.null(rows$when)) {
    if (!anyDuplicated(rows$when)) {
      rows$order[order(rows$when)] <- seq_len(nrow(rows))
      rows$block <- rounds_of(rows)
    }
    return(rows)
  }
  turn <- order(as.numeric(time))
  gaps <- diff(as.numeric(time)[turn])
  length <- rep_len(length, nrow(rows))
  if (nrow(rows) > 1 && all(gaps > 0.5 * pmax(0.001, empty_zero(length[turn][-1])))) {
    rows$order[turn] <- seq_len(nrow(rows))
    rows$block <- rounds_of(rows)
  }
  rows
}

# a round holds every arm once; passes that ran in such rounds are blocks
rounds_of <- function(found) {
  arms <- unique(found$arm)
  block <- rep(NA_integer_, nrow(found))
  for (workload in unique(found$workload)) {
    here <- which(found$workload == workload)
    here <- here[order(found$order[here])]
    if (length(here) %% length(arms) != 0) {
      return(rep(NA_integer_, nrow(found)))
    }
    round <- (seq_along(here) - 1) %/% length(arms) + 1
    whole <- all(tapply(found$arm[here], round, function(a) !anyDuplicated(a)))
    if (!whole || length(arms) < 2) {
      return(rep(NA_integer_, nrow(found)))
    }
    block[here] <- round
  }
  block
}
