# Where a run stands and what comes next, in words.

words_of_runs <- list(
  nothing_to_read = function(v) {
    paste0(
      "the warm-up gave nothing that can be read", if (length(v$patterns)) {
        paste0(
          " (looked for ", some_of(v$patterns), ")"
        )
      },
      "; what it said is in ", v$log, ". Mend the plan, then run again: the passes after it are not spent"
    )
  },
  run_not_started = paste(
    "a command of the plan could not be started in {folder}: {said}. Mend the plan or install the program, then run",
    "again: the pass is not spent"
  ),
  pairs_done = "every pair is judged, and the arms are revealed",
  pairs_given_up = "given up: the arms are revealed, and what is left of it is not run",
  pair_waits = "stopped: pair {pair}, {workload}, waits for your word",
  pairs_need_you = "pairs are judged by a person, who is not there: run it at a terminal, or open the board",
  run_done = "every pass of the plan is done",
  run_settled = "settled after {blocks|block}: {settled} of {of} primary comparisons",
  run_settled_in_part = paste(
    "{settled} of {of} primary comparisons are settled after {blocks|block}; the other {rest} cannot be within the",
    "blocks that may be run"
  ),
  run_not_settled = c(
    "{blocks|block} are done, as many as may be run: {settled} of {of} primary comparisons are settled",
    "run on with --most-blocks"
  ),
  search_done = "the search is over, and all that was asked for was run",
  search_stopped = c("the search was stopped by the tester", "go on with: honestmargin search STUDY --go-on"),
  run_next = function(v) paste("next:", pass_words(v)),
  run_stopped = function(v) {
    paste0(
      "stopped in pass ", v$pass,
      if (v$again) " - it will be run again" else " - it was tried often enough and is not run again"
    )
  },
  step = function(v) step_words(v),
  no_number = "a number, please (12.5, 1,234 or 1:05.2); none, if the pass gave none",
  far_off = "{typed} is far from the usual {usual}",
  no_such_word = "choose one of {known}",
  answered_before = "this was answered already", no_picture = "this is no picture",
  no_log = "this is no frame log: {what}",
  log_of_other = "this log is stored already, as pass {before}; name that of this pass, or undo pass {before} first",
  play_by_hand = function(v) {
    paste0(
      pass_words(v), ", is played by hand. Play it, then: honestmargin add ", v$folder, " --arm ", shQuote(v$arm),
      " --workload ", shQuote(v$workload), " METRIC=VALUE"
    )
  }
)
