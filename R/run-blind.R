# A run whose tester must not know which arm it is: what it tells and asks is without arms, and pairs are judged.

pair_choices <- c("first", "second", "none", "stop")

#' Are the arms of this run withheld?
#'
#' The sealed plan decides: one that was changed since, so that arms would show, is not run.
#' @noRd
blind_as_planned <- function(store, plan) {
  pairs <- store_blind(store)
  if (is.null(pairs) == is_blind(plan)) {
    abort_input(
      paste("judge: blind", if (is.null(pairs)) "came into the sealed plan" else "was taken out of the sealed plan"),
      store$folder, if (is.null(pairs)) {
        paste("a fresh batch is blind from its start: honestmargin repeat", store$folder)
      } else {
        paste0("put it back, or give up the pairs: honestmargin run ", store$folder, " --give-up")
      }
    )
  }
  if (isTRUE(pairs$given_up)) {
    abort_input(
      "its arms are known, so what is left of it is not run", store$folder,
      paste("a fresh batch is blind again: honestmargin repeat", store$folder)
    )
  }
  isTRUE(pairs$withheld)
}

give_up_pairs <- function(store) {
  if (!store_withheld(store)) abort_input("no arms are withheld here", store$folder, "run it without --give-up")
  store_reveal(store, given_up = TRUE)
  list(state = "done", message = code_text(new_code("pairs_given_up")), ran = 0)
}

#' The same run, which tells and asks without arms, readings and sensors
#' @param run As in `run_pass()`.
#' @noRd
blinded <- function(run) {
  tell <- run$tell
  ask <- run$ask
  run$blind <- TRUE
  run$tell <- function(kind, facts) tell(kind, hide_facts(kind, facts))
  if (!is.null(ask)) run$ask <- function(kind, facts) ask(kind, hide_facts(kind, facts))
  run
}

hide_facts <- function(kind, facts) {
  if (is.data.frame(facts$pass)) facts$pass <- hide_arms(facts$pass)
  if (kind == "begin") facts$plan$setting$unit <- ""
  if (kind == "gate") facts$value <- NA
  facts[setdiff(names(facts), c("readings", "findings"))]
}

#' Ask which was better, of every pair that has run and was not judged yet
#' @return `NULL` to go on; else a list `state`, `code`.
#' @noRd
judge_open_pairs <- function(run) {
  if (is.null(run$ask)) {
    return(list(state = "waiting", code = new_code("pairs_need_you")))
  }
  pairs <- store_pairs(run$store)
  for (i in which(pairs$whole & is.na(pairs$choice))) {
    pair <- pairs[i, , drop = FALSE]
    of <- pairs$workload == pair$workload
    number <- sum(of[seq_len(i)])
    said <- run$ask("pair", list(
      pass = store_pass(run$store, pair$pass), pair = number, pairs = sum(of), workload = pair$workload
    ))
    if (said$choice == "stop") {
      return(list(state = "interrupted", code = new_code("pair_waits", pair = number, workload = pair$workload)))
    }
    store_judge(run$store, pair, said)
  }
}
