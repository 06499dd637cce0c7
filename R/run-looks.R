# Looking after every block, and stopping when all is settled.

#' @param run As in `run_study()`, with `looks`: `NULL`, or a list `most` (blocks). @param before,pass The pass that
#'   ended last, and the next one (no row where the schedule is done).
#' @return `NULL` where the run goes on, else a code that says why it need not.
#' @noRd
look_after_block <- function(run, before, pass) {
  if (is.null(run$looks) || !ends_block(before, pass)) {
    return(NULL)
  }
  study <- tryCatch(load_study(run$store, list(), before$batch), honestmargin_error_input = identity)
  if (!is_study(study)) {
    return(NULL)
  }
  seen <- look_at(study, run$looks$most)
  count <- as.list(table(factor(seen$state, c("settled", "open", "hopeless", "closed"))))
  # nothing ran since the last one
  if (!identical(last_look(run$store), list(before$batch, before$block))) {
    detail <- c(list(batch = before$batch, block = before$block), count)
    store_event(run$store, "look", detail = detail, once = c(before$batch, before$block))
  }
  run$tell("look", list(block = before$block, seen = seen))
  if (run$plan$drop_settled && count$open > 0) drop_settled(run, seen, before)
  blocks <- length(unique(stats::na.omit(study$passes$block[study$passes$role == "counted"])))
  after_look(run, count, blocks, scheduled = nrow(pass) && pass$batch == before$batch, before$batch)
}

# an arm that has nothing open any more is left out of what is still to come; the family does not shrink
drop_settled <- function(run, seen, before) {
  known <- event_details(store_history(run$store)$events, "arm settled", before$batch)
  for (arm in setdiff(seen$arm, vapply(known, `[[`, "", "arm"))) {
    if (all(seen$state[seen$arm == arm] == "settled")) {
      detail <- list(batch = before$batch, arm = arm, block = before$block)
      store_event(run$store, "arm settled", detail = detail, once = c(before$batch, arm))
    }
  }
}

ends_block <- function(before, pass) {
  if (is.null(before) || is.na(before$block)) {
    return(FALSE)
  }
  !nrow(pass) || !pass$block %in% before$block || pass$batch != before$batch
}

# stop, go on with what is scheduled, or add a block
after_look <- function(run, count, blocks, scheduled, batch) {
  facts <- list(blocks = blocks, settled = count$settled, of = Reduce(`+`, count), rest = count$hopeless + count$closed)
  code <- function(word) do.call(new_code, c(word, facts))
  if (count$open == 0) {
    return(code(if (facts$rest) "run_settled_in_part" else "run_settled"))
  }
  if (scheduled) {
    return(NULL)
  }
  if (blocks >= run$looks$most) {
    return(code("run_not_settled"))
  }
  store_extend(run$store, 1L, batch, said = FALSE)
  NULL
}

last_look <- function(store) {
  said <- utils::tail(event_details(store_history(store)$events, "look"), 1)
  if (length(said)) unname(said[[1]][c("batch", "block")])
}
