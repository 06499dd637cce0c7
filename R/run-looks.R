# Looking after every block, and stopping when all is settled.

#' @param run As in `run_study()`, with `looks`: `NULL`, or a list `most` (blocks). @param before,pass The pass that
#'   ended last, and the next one (no row where the schedule is done).
#' @return `NULL` where the run goes on, else a code that says why it need not.
#' @noRd
look_after_block <- function(run, before, pass) {
  within <- nrow(pass) && identical(pass$block, before$block) && identical(pass$batch, before$batch)
  if (is.null(run$looks) || is.null(before) || is.na(before$block) || within) {
    return(NULL)
  }
  batch <- before$batch
  study <- tryCatch(load_study(run$store, list(), batch), honestmargin_error_input = identity)
  if (!is_study(study)) {
    return(NULL)
  }
  blocks <- length(unique(stats::na.omit(study$passes$block[study$passes$role == "counted"])))
  seen <- look_at(study, run$looks$most)
  count <- as.list(table(factor(seen$state, c("settled", "open", "hopeless", "closed"))))
  # nothing ran since the last one
  if (!identical(last_look(run$store), list(batch, before$block))) {
    store_event(run$store, "look", detail = c(list(batch = batch, block = before$block), count))
  }
  run$tell("look", list(block = before$block, seen = seen))
  if (count$open == 0) {
    code <- if (count$settled == nrow(seen)) "run_settled" else "run_settled_in_part"
    rest <- count$hopeless + count$closed
    return(new_code(code, blocks = blocks, settled = count$settled, of = nrow(seen), rest = rest))
  }
  if (nrow(pass) && pass$batch == batch) {
    return(NULL)
  }
  if (blocks >= run$looks$most) {
    return(new_code("run_not_settled", blocks = blocks, settled = count$settled, of = nrow(seen)))
  }
  store_extend(run$store, 1L, batch, said = FALSE)
  NULL
}

last_look <- function(store) {
  events <- store_history(store)$events
  said <- utils::tail(events$detail[events$kind == "look"], 1)
  if (length(said)) unname(jsonlite::fromJSON(said)[c("batch", "block")])
}
