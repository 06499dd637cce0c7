# A study that is looked at while it runs: what is settled, and what can still be.

#' How far the comparisons of a study are, by intervals that hold however often one looks
#'
#' @param study From `load_study()`. @param most Blocks that may be run in all.
#' @return Data frame, one row per primary comparison: `workload`, `context`, `segment`, `metric`, `arm`, `change`,
#'   `lower`, `upper`, `scale`, `unit`, `verdict`, `more_passes`, `unit_of_replication`, and `state`: `settled`, `open`,
#'   `hopeless` (a chance of less than 5 % within `most` blocks) or `closed` (no further pass would help).
#' @noRd
look_at <- function(study, most) {
  verdicts <- weigh_once(study, study$plan, list(), list(
    steady = FALSE, noise = NULL, no_limiter = FALSE, looks = TRUE, most_units = most, against = "baseline"
  ))
  rows <- verdicts[verdicts$role == "primary", , drop = FALSE]
  rows$state <- vapply(seq_len(nrow(rows)), function(i) look_state(rows[i, ]), "")
  rows
}

look_state <- function(row) {
  codes <- code_names(row$codes[[1]])
  if (row$verdict == "no basis") {
    # too few passes yet is not too few for ever
    waits <- any(codes %in% c("looks_begin", "no_looks", "one_pass_each", "one_pass", "no_reading", "one_shared_block"))
    return(if (waits) "open" else "closed")
  }
  if (row$verdict != "unclear") {
    return(if (row$verdict == "blocked") "closed" else "settled")
  }
  if ("hopeless" %in% codes) "hopeless" else if (identical(row$more_passes, Inf)) "closed" else "open"
}

#' A study as it stands, for those who watch it run
#'
#' Nothing is recorded: a look that ends a run is one of [run_study()] itself.
#' @return A list: `study`, and `seen` as from `look_at()` (`NULL` where nothing is compared yet); `NULL` where no pass
#'   has given a reading.
#' @noRd
look_now <- function(folder) {
  with_store(folder, write = FALSE, code = function(store) {
    study <- tryCatch(
      load_study(store, list(), utils::tail(store_batches(store), 1)),
      honestmargin_error_input = function(e) NULL
    )
    if (is.null(study)) {
      return(NULL)
    }
    compares <- any(study$passes$role == "counted") && !is_together(study$plan) && !has_one_arm(study)
    seen <- if (compares) tryCatch(look_at(study, 4 * study$plan$blocks), honestmargin_error_input = function(e) NULL)
    list(study = study, seen = seen)
  })
}
