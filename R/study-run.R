# Running a study: always on from the first pass that is not done.

#' Run a study
#'
#' Seals the plan before the first counted pass, then runs every pass that is not
#' done yet: puts the setting in place, reads it back, settles, waits for gates,
#' runs the workload, collects scores and frame logs, decides what happened and
#' stores it. After an interruption, a crash or a reboot the same call goes on.
#' A pass that nobody saw the end of is recorded as `lost` and run again.
#'
#' @param folder Study folder that holds `study.yml`; the ledger is made in it.
#' @param ask `NULL` where no person is there; else a function of a kind of
#'   question and its facts that returns the answer.
#' @param tell Function of a kind of news and its facts; told what goes on.
#' @param most Run at most this many passes.
#' @return A list: `state` (`"done"`, `"paused"` after `most` passes, `"waiting"`
#'   for a step by hand, `"interrupted"`), `message` (what to do next), `ran`
#'   (passes run by this call).
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
run_study <- function(folder, ask = NULL, tell = function(kind, facts) NULL, most = Inf) {
  planned <- study_plan(folder)
  plan <- planned$plan
  with_ledger(folder, create = TRUE, code = function(con) {
    seal_first(con, planned$text, plan)
    run <- list(con = con, folder = folder, plan = plan, machine = machine_identity(), ask = ask, tell = tell)
    settle_unfinished(run)
    run$versions <- ask_versions(plan, folder)
    tell("begin", list(progress = ledger_progress(con), plan = plan))
    run_on(run, most)
  })
}

ask_versions <- function(plan, folder) {
  vapply(plan$versions, function(command) {
    paste(utils::head(ask_command(as.character(command), 30, folder)$output, 1), collapse = "")
  }, "")
}

run_on <- function(run, most) {
  ran <- 0
  repeat {
    pass <- next_pass(run$con)
    if (is.null(pass)) {
      return(list(state = "done", message = "every pass of the plan is done", ran = ran))
    }
    if (ran >= most) {
      return(list(state = "paused", message = paste("next:", pass_words(pass, run$plan)), ran = ran))
    }
    waiting <- step_by_hand(run, pass)
    if (!is.null(waiting)) {
      return(list(state = "waiting", message = waiting, ran = ran))
    }
    run$tell("pass", list(pass = pass, progress = ledger_progress(run$con)))
    outcome <- tryCatch(run_pass(run, pass), interrupt = function(e) close_interrupted(run, pass))
    ran <- ran + 1
    if (outcome == "interrupted") {
      again(run, pass, "interrupted")
      return(list(
        state = "interrupted", message = paste("stopped in pass", pass$pass, "- it will be run again"), ran = ran
      ))
    }
  }
}

# the parts of a toggled pass ("p001.2") ran in it
ledger_progress <- function(con) {
  DBI::dbGetQuery(con, "SELECT (SELECT count(*) FROM pass WHERE pass NOT LIKE '%.%') AS planned,
    count(*) AS done, total(seconds) AS seconds FROM ended WHERE pass NOT LIKE '%.%'")
}

pass_words <- function(pass, plan) {
  unit <- empty_to(plan$setting$unit, "")
  paste0(
    "pass ", pass$pass, ": ", plan$setting$name, " ", pass$arm, if (nzchar(unit)) paste0(" ", unit), ", ",
    pass$workload,
    if (!is.na(pass$context)) paste0(", ", plan$context$name, " ", pass$context),
    if (pass$role == "warm_up") " (warm-up)"
  )
}

# What was going on when the last run ended: another runner, or nobody any more.
settle_unfinished <- function(run) {
  open <- DBI::dbGetQuery(run$con, "SELECT * FROM begun WHERE pass NOT IN (SELECT pass FROM ended)")
  for (i in seq_len(nrow(open))) {
    here <- open$host[i] == run$machine$host && open$boot[i] == run$machine$boot
    if (here && open$pid[i] != Sys.getpid() && process_lives(open$pid[i])) {
      abort_stuck(
        paste0("another process (", open$pid[i], ") is running this study"), run$folder,
        "wait for it, or stop it first"
      )
    }
    if (here) end_leftovers(pass_mark(run$folder, open$pass[i]))
    close_lost(run, open[i, ])
  }
}

# a dead process that nobody has collected yet still has a number
process_lives <- function(pid) {
  state <- sub("^.*[)] ([A-Z]).*$", "\\1", first_word(file.path("/proc", pid, "stat")))
  isTRUE(tools::pskill(pid, 0)) && !state %in% c("Z", "X")
}

close_lost <- function(run, begun) {
  log <- file.path(run$folder, "logs", paste0(begun$pass, ".log"))
  seconds <- if (file.exists(log)) max(0, as.numeric(file.mtime(log)) - stamp_seconds(begun$started)) else NA_real_
  rebooted <- begun$boot != run$machine$boot
  detail <- if (rebooted) "the machine was started anew in the meantime" else "the runner was ended"
  end_pass(run$con, list(pass = begun$pass, seconds = seconds, outcome = "lost", detail = detail))
  run$tell("lost", list(pass = begun$pass, detail = detail))
  pass <- DBI::dbGetQuery(run$con, "SELECT * FROM pass WHERE pass = ?", list(begun$pass))
  again(run, pass, "lost", most = 2)
}

close_interrupted <- function(run, pass) {
  end_pass(run$con, list(pass = pass$pass, outcome = "interrupted", detail = "stopped by the tester"))
  "interrupted"
}

# A pass that takes a machine down each time must not be tried without end.
again <- function(run, pass, reason, most = 20) {
  root <- if (is.na(pass$instead_of)) pass$pass else pass$instead_of
  tries <- DBI::dbGetQuery(run$con, "SELECT count(*) AS n FROM pass WHERE instead_of = ?", list(root))$n
  if (tries < most) replace_pass(run$con, root, reason)
}
