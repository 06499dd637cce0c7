# Rows that were taken twice count once: a table that was pasted after itself, or joined with one that holds it.

#' Passes that repeat the numbers of passes before them, in the same order
#'
#' One pass like another may be chance; a run of them is not. How likely chance is follows from the step and the noise
#' of the finest metric, and from how often passes of an arm are alike elsewhere.
#' @param rows A list of columns, filled in.
#' @return The rows, and `findings`: the later of such passes are copies.
#' @noRd
count_once <- function(rows) {
  whole <- which(is_counted(rows) & is.na(rows$segment) & is.na(rows$part))
  places <- split_in_order(whole, rows$workload[whole], rows$context[whole])
  found <- lapply(unname(places), function(at) repeated_here(take_rows(rows, at)))
  found <- Filter(length, found)
  for (one in found) {
    at <- match(rows$pass, one$again)
    again <- which(!is.na(at) & rows$workload == one$workload & rows$context %in% one$context & rows$role == "counted")
    rows$role[again] <- "copy"
    rows$reason[again] <- paste("the numbers of", one$before[at[again]], "again")
  }
  list(rows = rows, findings = do.call(bind_findings, lapply(found, function(one) {
    do.call(new_finding, c("warning", "repeated", one))
  })))
}

#' @return `NULL`, or a list: `again` (passes), `before` (those whose numbers they have), `workload`, `context`.
#' @noRd
repeated_here <- function(rows) {
  passes <- take_rows(rows[c("pass", "arm")], which(!duplicated(rows$pass)))
  n <- length(passes$pass)
  metrics <- unique(rows$metric)
  values <- matrix(NA_real_, n, length(metrics))
  values[cbind(match(rows$pass, passes$pass), match(rows$metric, metrics))] <- rows$value
  key <- do.call(paste, c(list(passes$arm), asplit(values, 2)))
  if (!anyDuplicated(key)) {
    return(NULL)
  }
  run <- repeated_rows(key)
  if (!is.null(run) && is_no_chance(run$again, key, values, passes$arm)) {
    list(
      again = passes$pass[run$again], before = passes$pass[run$before], workload = rows$workload[1],
      context = rows$context[1]
    )
  }
}

#' Runs of rows that are as those some rows before them
#' @return `NULL`, or a list: `again` (which rows), `before` (the first ones like them; as far before as most rows that
#'   are like another have it).
#' @noRd
repeated_rows <- function(key) {
  at <- seq_along(key)
  back <- at - stats::ave(at, key, FUN = function(i) c(NA, i[-length(i)]))
  step <- as.integer(names(which.max(table(back))))
  alike <- rle(c(rep(FALSE, step), key[-seq_len(step)] == key[seq_len(length(key) - step)]))
  alike$values <- alike$values & alike$lengths >= 4
  again <- which(inverse.rle(alike))
  before <- again - step
  # of three alike the first counts
  while (any(before %in% again)) before <- ifelse(before %in% again, before - step, before)
  if (length(again)) list(again = again, before = before)
}

# less than one table in a thousand would have such a run by chance
is_no_chance <- function(again, key, values, arm) {
  once <- setdiff(seq_along(key), again)
  pairs <- sum(choose(table(arm[once]), 2))
  alike <- sum(choose(table(key[once]), 2))
  # two draws from one normal distribution fall on one step
  by_step <- apply(values[once, , drop = FALSE], 2, function(v) {
    known <- is.finite(v)
    left <- v[known] - stats::ave(v[known], arm[once][known])
    spread <- sqrt(sum(left^2) / max(1, sum(known) - length(unique(arm[once][known]))))
    if (any(known) && spread > 0) decimal_step(v[known]) / (2 * sqrt(pi) * spread) else 1
  })
  one <- max(min(by_step, 1), (alike + 0.5) / (pairs + 1))
  # the same number again tells nothing more
  new <- length(unique(key[again]))
  new >= 4 && new * log(one) + log(length(key)^2 / 2) < log(0.001)
}
