# Running a study: always on from the first pass that is not done.

#' Run a study
#'
#' Seals the plan before the first counted pass, then runs every pass that is not
#' done yet: puts the setting in place, reads it back, settles, waits for gates,
#' runs the workload, collects scores and frame logs, decides what happened and
#' stores it. After an interruption, a crash or a reboot the same call goes on.
#' A pass that nobody saw the end of is recorded as `lost` and run again.
#'
#' @section Questions: `ask(kind, facts)` returns the answer of a person. Kinds: `"step"` (do
#'   `facts$words`, then `TRUE`, `FALSE` to stop here, or `"no_start"` where the machine does not come
#'   up so), `"read_back"` (the text that the machine shows for `facts$setting`; `facts$again` where the
#'   first answer did not agree), `"play"` (run the workload as `facts$how` says; an outcome),
#'   `"pair"` (which of two passes was better: a list `choice`, `"first"`, `"second"`, `"none"`, or `"stop"` to judge it
#'   later, and `note`; `facts$pair`, `facts$pairs`, `facts$workload`),
#'   `"value"` (one number, or `NA` with an attribute `why`: `facts$metric`, `facts$segment`, `facts$unit`,
#'   `facts$earlier` values of this arm, those `facts$elsewhere` of all arms),
#'   `"frames"` (path of a frame log, frame times in ms, or `NULL`; `facts$stored_as(path)` is the pass whose log this
#'   was already, or `NULL`) and `"note"` (text or `NA`). Each is also shown by [serve_board()], and
#'   whoever answers first has answered: `facts$heard()` is not `NULL` any more when that was done there.
#' @section News: `tell(kind, facts)` is told: `"begin"` (`progress`, `plan`), `"pass"` (`pass`,
#'   `progress`), `"running"` (`pass`, `seconds`, about five times a second), `"gate"` (`name`, `value`,
#'   `below`), `"lost"` (`pass`, `why`, `again`: whether it will be run again) and `"ended"`
#'   (`pass`, `outcome`, `findings`, `note`, `readings`), `"heard"` (`kind`, `pass`: a question that was answered on
#'   the board), `"rung"` (a search turns to another value: `pass`, `now` as in
#'   [read_search()]), `"look"` (`block`, `seen`: the primary verdicts with their
#'   `state`) after each block where `until_settled` is asked for.
#' @param x Study folder that holds `study.yml`; the ledger is made in it.
#' @param ... Not used.
#' @param ask `NULL` where no person is there; else a function of a kind of
#'   question and its facts that returns the answer.
#' @param tell Function of a kind of news and its facts; told what goes on.
#' @param most Run at most this many passes.
#' @param until_settled `TRUE` looks after every block and stops when every primary comparison is settled, or has a
#'   chance of less than 5 % to be within `most_blocks`. The study is judged, now and whenever it is weighed later,
#'   by intervals that hold however often one looks (see [weigh()]); that looks were taken is told.
#' @param most_blocks Blocks that may be run in all until then; `NULL`: four times those of the plan. Beyond the plan's
#'   own they are added one by one.
#' @param give_up `TRUE` ends blind pairs before all are judged, and reveals their arms; nothing is run.
#' @return A list: `state` (`"done"`, `"settled"`, `"paused"` after `most` passes, `"waiting"`
#'   for a step by hand, `"interrupted"`, `"stopped"` where the warm-up gave nothing, or a command of the plan could not
#'   be started),
#'   `message` (what to do next), `ran` (passes run by this call).
#' @section Errors: `honestmargin_error_input` for a missing or wrong plan,
#'   `honestmargin_error_stuck` when another process runs this study or the
#'   folder cannot be written.
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: level, baseline: 1}", "arms: [{value: 1}, {value: 9}]", "blocks: 2",
#'   "workloads:", "  - id: squeeze", "    command: echo score {arm}0",
#'   "    scores: [{metric: score, pattern: 'score ([0-9]+)'}]"
#' ), file.path(folder, "study.yml"))
#' run_study(folder)$state
#' read_study(folder)$readings[, c("pass", "arm", "value")]
run_study <- function(x, ..., ask = NULL, tell = function(kind, facts) NULL, most = Inf,
                      until_settled = FALSE, most_blocks = NULL, give_up = FALSE) {
  assert_no_dots(...)
  checkmate::assert_flag(until_settled)
  checkmate::assert_flag(give_up)
  checkmate::assert_count(most_blocks, positive = TRUE, null.ok = TRUE)
  folder <- folder_of(x)
  plan <- read_plan(folder)
  machine <- machine_identity()
  # the numbers that whoever calls this draws next are theirs
  withr::with_preserve_seed(with_store(folder, create = TRUE, blind = TRUE, code = function(store) {
    with_run_lock(folder, machine, function() {
      if (give_up) {
        return(give_up_pairs(store))
      }
      store_seal(store, plan)
      blind <- blind_as_planned(store, plan)
      # a search goes on by the plan that was sealed, and by what was said since
      if (is_search(plan)) plan <- sealed_search(plan, store)
      run <- list(store = store, folder = folder, plan = plan, machine = machine, ask = ask, tell = tell)
      run$ask <- ask_written_down(run)
      if (blind) run <- blinded(run)
      settle_unfinished(run)
      fill_holes(run)
      run$versions <- ask_versions(plan, folder)
      if (until_settled && is_search(plan)) {
        abort_usage("a search ends by itself", todo = "run it without --until-settled")
      }
      if (until_settled && blind) {
        abort_usage("to look at pairs would show their arms", todo = "run it without --until-settled")
      }
      if (until_settled && plan$setting$one_way) {
        abort_usage("a plan that is one way has no blocks to look after", todo = "run it without --until-settled")
      }
      if (until_settled) run$looks <- list(most = empty_to(most_blocks, 4 * plan$blocks))
      tell("begin", list(progress = store_progress(store), plan = plan, order = if (blind) store_blind(store)$hash))
      run_on(run, most)
    })
  }))
}

sealed_search <- function(plan, store) {
  sealed <- load_search(store)$plan
  plan[c("search", "arms")] <- sealed[c("search", "arms")]
  plan$setting$baseline <- sealed$setting$baseline
  plan
}

# to the end of one pass, whatever that is
go_through <- function(run, pass, dead = NULL) {
  run$tell("pass", list(pass = pass, progress = store_progress(run$store)))
  if (!is.null(dead)) {
    return(close_dead(run, pass, dead))
  }
  tryCatch(run_pass(run, pass), interrupt = function(e) close_interrupted(run, pass))
}

turns_to_other <- function(last, pass) {
  pass$role %in% search_roles && !identical(unlist(last[c("arm", "role")]), unlist(pass[c("arm", "role")]))
}

pass_to_run <- function(run) if (is_search(run$plan)) next_of_search(run$store) else store_open(run$store, 1)

ask_versions <- function(plan, folder) {
  vapply(plan$versions, function(command) {
    said <- ask_command(as.character(command), 30, folder)
    # Ctrl-C meant the run, not this question
    if (said$interrupted) signalCondition(structure(list(), class = c("interrupt", "condition")))
    paste(utils::head(said$output, 1), collapse = "")
  }, "")
}

run_on <- function(run, most) {
  ran <- 0
  last <- if (!is.null(run$looks)) store_last(run$store)
  end <- function(state, code) list(state = state, message = code_text(code), ran = ran)
  repeat {
    waits <- if (isTRUE(run$blind)) judge_open_pairs(run)
    if (!is.null(waits)) {
      return(end(waits$state, waits$code))
    }
    pass <- pass_to_run(run)
    if (!is.data.frame(pass)) {
      return(end("done", pass))
    }
    settled <- look_after_block(run, last, pass)
    if (!is.null(settled)) {
      return(end("settled", settled))
    }
    if (!nrow(pass)) pass <- store_open(run$store, 1)
    if (!nrow(pass)) {
      if (isTRUE(run$blind)) store_reveal(run$store)
      return(end("done", new_code(
        if (is_search(run$plan)) "search_done" else if (isTRUE(run$blind)) "pairs_done" else "run_done"
      )))
    }
    if (ran >= most) {
      return(end("paused", do.call(new_code, c("run_next", pass_facts(pass, run$plan)))))
    }
    waiting <- step_by_hand(run, pass)
    dead <- identical(waiting$code, "would_not_start")
    if (!is.null(waiting) && !dead) {
      return(end("waiting", waiting))
    }
    if (turns_to_other(last, pass)) run$tell("rung", list(pass = pass, now = load_search(run$store)$now))
    outcome <- go_through(run, pass, if (dead) waiting)
    ran <- ran + 1
    last <- pass
    over <- stop_after(run, pass, outcome)
    if (!is.null(over)) {
      return(end(over$state, over$code))
    }
  }
}

# what a pass ended with may end the run
stop_after <- function(run, pass, outcome) {
  if (outcome == "lost" && pass$role == "warm_up") {
    return(list(state = "stopped", code = nothing_found_code(run, pass)))
  }
  if (outcome == "interrupted") {
    again <- isTRUE(attr(outcome, "again"))
    said <- attr(outcome, "not_started")
    if (!is.null(said)) {
      if (isTRUE(run$blind)) said <- "what it said is withheld with the arms"
      return(list(state = "stopped", code = new_code("run_not_started", said = said, folder = run$folder)))
    }
    list(state = "interrupted", code = new_code("run_stopped", pass = pass$pass, again = again))
  }
}

# A pattern that finds nothing in the warm-up will find nothing in any pass.
nothing_found_code <- function(run, pass) {
  workload <- workload_of(run$plan, pass$workload)
  patterns <- unlist(lapply(workload$scores, function(s) empty_to(s$pattern, s$json)))
  new_code("nothing_to_read",
    pass = pass$pass, patterns = patterns, log = file.path(run$folder, "logs", paste0(pass$pass, ".log"))
  )
}

#' What tellers need to name a pass
#' @noRd
pass_facts <- function(pass, plan) {
  blind <- is_blind(plan)
  if (blind) pass <- hide_arms(pass)
  list(
    pass = pass$pass, setting = plan$setting$name, arm = pass$arm, unit = if (blind) "" else plan$setting$unit,
    workload = pass$workload,
    context_name = empty_to(plan$context$name, ""), context = empty_na(pass$context), warm_up = pass$role == "warm_up"
  )
}

# What was going on when the last run ended: another runner, or nobody any more.
settle_unfinished <- function(run) {
  open <- store_unfinished(run$store)
  for (i in seq_len(nrow(open))) {
    here <- open$host[i] == run$machine$host && open$boot[i] == run$machine$boot
    # its number may have gone to a process that began after the pass
    if (here && open$pid[i] != Sys.getpid() && process_lives(open$pid[i]) &&
      process_age(open$pid[i]) > as.numeric(Sys.time()) - stamp_seconds(open$started[i]) - 2) {
      abort_stuck(
        paste0("another process (", open$pid[i], ") is running this study"), run$folder,
        "wait for it, or stop it first"
      )
    }
    if (here) end_leftovers(pass_mark(run$folder, open$pass[i]))
    close_lost(run, open[i, ])
  }
}

# A pass that takes a machine down each time must not be tried without end.
close_lost <- function(run, pass) {
  log <- file.path(run$folder, "logs", paste0(pass$pass, ".log"))
  seconds <- if (file.exists(log)) max(0, as.numeric(file.mtime(log)) - stamp_seconds(pass$started)) else NA_real_
  restarted <- pass$boot != run$machine$boot
  why <- new_code(if (restarted) "machine_restarted" else "runner_ended")
  searching <- pass$role %in% search_roles
  # a value that is tried out and takes the machine down has failed; the tester may say that it was something else
  outcome <- if (searching && restarted) "down" else "lost"
  again <- searching && outcome == "lost"
  # lost and run again are one act: a kill in between would take the pass out of the plan
  hold_turn(run$store, {
    store_end(run$store, list(pass = pass$pass, seconds = seconds, outcome = outcome, findings = as_finding(why)))
    if (!searching) again <- store_again(run$store, pass, "lost", most = tries_of[["lost"]])
  })
  run$tell("lost", list(pass = pass$pass, why = why, again = again, outcome = outcome))
}

# how often a pass that gave no result is tried once more
tries_of <- c(lost = 2, interrupted = 20, undone = Inf)

close_interrupted <- function(run, pass) {
  end_pass(run, pass, list(
    pass = pass$pass, outcome = "interrupted", findings = as_finding(new_code("stopped"))
  ))
}

#' The end of a pass in the record, with its further try where it was interrupted
#' @return The outcome; attribute `again`: whether it will be run again.
#' @noRd
end_pass <- function(run, pass, record) {
  # a search asks for it again by itself
  again <- pass$role %in% search_roles
  hold_turn(run$store, {
    store_end(run$store, record)
    if (record$outcome == "interrupted" && !again) {
      again <- store_again(run$store, pass, "interrupted", most = tries_of[["interrupted"]])
    }
  })
  structure(record$outcome, again = again)
}

#' Write down the further tries that a kill between two writes left out
#' @noRd
fill_holes <- function(run) {
  holes <- store_holes(run$store)
  for (i in seq_len(nrow(holes))) {
    store_again(run$store, holes[i, ], holes$why[i], most = tries_of[[holes$why[i]]])
  }
}

# the tester says at the step that the machine does not come up with this setting
close_dead <- function(run, pass, why) {
  store_begin(run$store, pass$pass, run$machine)
  found <- as_finding(why)
  store_end(run$store, list(pass = pass$pass, outcome = "no_start", findings = found))
  run$tell("ended", list(pass = pass, outcome = "no_start", findings = found))
  "no_start"
}

#' What the record says of a pass: a code as a finding
#' @noRd
as_finding <- function(code, severity = "note") {
  if (!is.null(code)) do.call(new_finding, c(list(severity, code$code), code$values))
}
