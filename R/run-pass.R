# One pass, from putting the setting in place to its stored record.

#' @param run A list: `store`, `folder`, `plan`, `machine`, `versions`, `tell`
#'   (function of a kind and its facts), `ask` (function, or `NULL` without a person).
#' @param pass One row of the schedule.
#' @return The outcome.
#' @noRd
run_pass <- function(run, pass) {
  workload <- workload_of(run$plan, pass$workload)
  values <- pass_values(run, pass, workload)
  store_begin(run$store, pass$pass, run$machine)
  before <- take_snapshot(run, "before")
  seen <- prepare_pass(run, pass, workload, values)
  if (all(lengths(seen[c("refused", "mismatch", "not_started")]) == 0) && !isTRUE(seen$interrupted)) {
    seen <- c(
      seen,
      if (is.null(workload$command)) by_hand_pass(run, pass, workload) else command_pass(run, pass, workload, values)
    )
  }
  decided <- decide_outcome(seen)
  outcome <- empty_to(seen$said, decided$outcome)
  record <- c(
    seen[c("seconds", "played", "effective", "note", "taken")],
    seen$kept[c("readings", "traces", "piles", "parts", "limits", "pace")],
    list(
      pass = pass$pass, outcome = outcome, snapshots = stack_rows(list(before, take_snapshot(run, "after"))),
      findings = bind_findings(as_finding(decided$why), seen$gates, seen$found, seen$kept$findings)
    )
  )
  record$note <- if (!is.na(empty_to(record$note, NA))) record$note
  ended <- end_pass(run, pass, record)
  # a search may say no to what ran to its end
  if (pass$role %in% search_roles && length(run$plan$search$fails)) {
    record$findings <- bind_findings(record$findings, as_finding(failed_by_number(load_search(run$store), pass)))
  }
  run$tell("ended", c(list(pass = pass), record[c("outcome", "findings", "note", "readings")]))
  attr(ended, "not_started") <- seen$not_started
  ended
}

pass_values <- function(run, pass, workload) {
  folder <- normalizePath(run$folder)
  c(arm_settings(run$plan, pass$arm), list(
    arm = pass$arm, workload = pass$workload, context = empty_na(pass$context), pass = pass$pass, folder = folder,
    log = if (is.null(workload$frames)) {
      file.path(folder, "scratch", paste0(pass$pass, ".csv"))
    } else {
      file.path(folder, workload$frames)
    },
    seconds = empty_to(workload$seconds, "")
  ))
}

take_snapshot <- function(run, at) {
  # after a pass the setting is what it ran with, and nothing waits to be measured
  versions <- if (at == "after") ask_versions(run$plan, run$folder) else run$versions
  seen <- c(machine_snapshot(run$plan$variables, versions), if (at == "before") busy_processors())
  list2DF(list(at = rep(at, length(seen)), key = names(seen), value = unname(seen)))
}

# in the environment of all that a pass starts, so that leftovers can be found
pass_mark <- function(folder, pass) paste0(normalizePath(folder), "#", pass)

# Setting, context, read-back, settle, gates; whatever refuses ends it here.
prepare_pass <- function(run, pass, workload, values) {
  for (part in list(run$plan$setting, run$plan$context)) {
    if (is.null(part$command)) next
    done <- ask_command(part$command, 120, run$folder, values)
    if (done$interrupted) {
      return(list(interrupted = TRUE))
    }
    if (could_not_start(done)) {
      return(list(not_started = said_at_start(done)))
    }
    if (!isTRUE(done$status == 0)) {
      return(list(refused = new_code("not_set", said = utils::tail(c("no output", done$output), 1))))
    }
  }
  how <- run$plan$setting$read_back
  asked <- empty_to(arm_of(run$plan, pass$arm)$expect, pass$arm)
  disagree <- function(read) if (!is.null(read)) setting_mismatch(asked, read, how$factor, how$tolerance)
  read <- if (!is.null(how)) ask_read_back(run, pass, how, values)
  mismatch <- disagree(read)
  # a person mistypes, or presses Enter too soon; a machine that shows the same wrong thing twice is set wrong
  tries <- 1
  while (!is.null(mismatch) && isTRUE(how$typed)) {
    before <- trimws(read)
    read <- ask_read_back(run, pass, how, values, again = TRUE)
    mismatch <- disagree(read)
    if (nzchar(before) && identical(trimws(read), before)) break
    tries <- tries + 1
    if (tries > 20) {
      return(list(interrupted = TRUE))
    }
  }
  list(effective = read, mismatch = mismatch, gates = if (is.null(mismatch)) wait_for_gates(run, workload))
}

ask_read_back <- function(run, pass, how, values, again = FALSE) {
  if (isTRUE(how$typed)) {
    if (is.null(run$ask)) {
      return(NULL)
    }
    # what a menu shows is read once at each start
    known <- if (run$plan$setting$restart == "machine" && !again) store_shown(run$store, pass)
    return(empty_to(known, run$ask("read_back", list(pass = pass, setting = run$plan$setting, again = again))))
  }
  lines <- ask_command(how$command, 60, run$folder, values)$output
  if (is.null(how$pattern)) {
    return(trimws(utils::tail(c("", lines), 1)))
  }
  empty_to(last_match(lines, how$pattern), "nothing")
}

#' @return What the record should say: gates that stayed shut, or gave no number.
#' @noRd
wait_for_gates <- function(run, workload) {
  Sys.sleep(workload$settle)
  do.call(bind_findings, lapply(run$plan$gates, function(gate) {
    Sys.sleep(gate$pause)
    if (!is.null(gate$command)) wait_for_gate(run, gate)
  }))
}

# A gate that stays shut does not stop the study: the pass runs, and says so.
wait_for_gate <- function(run, gate) {
  name <- empty_to(gate$name, paste(gate$command, collapse = " "))
  until <- monotonic_s() + gate$wait
  repeat {
    value <- number_by_pattern(ask_command(gate$command, 30, run$folder)$output, gate$pattern)
    if (is.na(value)) {
      return(new_finding("note", "gate_dumb", gate = name))
    }
    if (value < empty_to(gate$below, Inf)) {
      return(NULL)
    }
    if (monotonic_s() > until) {
      return(new_finding("note", "gate_shut", gate = name, at = value, wait = gate$wait, below = gate$below))
    }
    run$tell("gate", list(name = name, value = value, below = gate$below))
    Sys.sleep(1)
  }
}
