# One pass, from putting the setting in place to its stored record.

#' @param run A list: `con`, `folder`, `plan`, `machine`, `versions`, `tell`
#'   (function of a kind and its facts), `ask` (function, or `NULL` without a person).
#' @param pass One row of the schedule.
#' @return The outcome.
#' @noRd
run_pass <- function(run, pass) {
  workload <- workload_of(run$plan, pass$workload)
  values <- pass_values(run, pass)
  begin_pass(run$con, pass$pass, run$machine)
  snapshots <- take_snapshot(run, pass, "before")
  record <- list(pass = pass$pass)
  seen <- prepare_pass(run, pass, values)
  if (is.null(seen$refused) && is.null(seen$mismatch) && !isTRUE(seen$interrupted)) {
    seen <- c(
      seen,
      if (is.null(workload$command)) by_hand_pass(run, pass, workload) else command_pass(run, pass, workload, values)
    )
  }
  decided <- decide_outcome(seen)
  decided$outcome <- empty_to(seen$said, decided$outcome)
  record <- utils::modifyList(record, list(
    seconds = seen$seconds, played = seen$played, outcome = decided$outcome, effective = seen$effective,
    detail = paste(stats::na.omit(c(decided$detail, seen$gates, seen[["note"]], seen[["notes"]])), collapse = "; ")
  ))
  captured <- c("readings", "traces", "pile", "segment_piles", "parts")
  record[captured] <- seen[captured]
  record$snapshots <- rbind(snapshots, take_snapshot(run, pass, "after"))
  if (!nzchar(record$detail)) record$detail <- NULL
  end_pass(run$con, record)
  run$tell("ended", list(pass = pass, outcome = decided$outcome, detail = record$detail, readings = record$readings))
  decided$outcome
}

workload_of <- function(plan, id) still_planned(Filter(function(w) w$id == id, plan$workloads), "workload", id)
arm_of <- function(plan, value) {
  still_planned(Filter(function(a) as.character(a$value) == value, plan$arms), "arm", value)
}

# the schedule was sealed; the plan may have been changed since
still_planned <- function(found, word, id) {
  if (!length(found)) {
    abort_input(paste0("the sealed schedule has the ", word, " '", id, "', which is no longer in the plan"),
      todo = "put it back, or start a new study folder"
    )
  }
  found[[1]]
}

pass_values <- function(run, pass) {
  folder <- normalizePath(run$folder)
  workload <- workload_of(run$plan, pass$workload)
  scratch <- file.path(folder, "scratch")
  list(
    arm = pass$arm, workload = pass$workload, context = empty_na(pass$context), pass = pass$pass, folder = folder,
    log = if (is.null(workload$frames)) {
      file.path(
        scratch, paste0(pass$pass, ".csv")
      )
    } else {
      file.path(folder, workload$frames)
    },
    seconds = empty_to(workload$seconds, "")
  )
}

take_snapshot <- function(run, pass, at) {
  seen <- machine_snapshot(as.character(unlist(run$plan$variables)), run$versions)
  data.frame(pass = pass$pass, at = at, key = names(seen), value = unname(seen))
}

# Setting, context, read-back, settle, gates; whatever refuses ends it here.
prepare_pass <- function(run, pass, values) {
  setting <- run$plan$setting
  for (part in list(setting, run$plan$context)) {
    if (is.null(part$command)) next
    done <- ask_command(part$command, 120, run$folder, values)
    if (done$interrupted) {
      return(list(interrupted = TRUE))
    }
    if (!isTRUE(done$status == 0)) {
      return(list(refused = paste0("could not be set (", utils::tail(c("no output", done$output), 1), ")")))
    }
  }
  read <- read_back(run, pass, values)
  mismatch <- if (!is.null(read)) {
    arm <- arm_of(run$plan, pass$arm)
    how <- setting$read_back
    setting_mismatch(
      as.character(empty_to(arm$expect, pass$arm)), read, empty_to(how$factor, 1), empty_to(how$tolerance, 0)
    )
  }
  gates <- if (is.null(mismatch)) wait_for_gates(run, workload_of(run$plan, pass$workload))
  list(effective = read, mismatch = mismatch, gates = gates)
}

read_back <- function(run, pass, values) {
  how <- run$plan$setting$read_back
  if (is.null(how)) {
    return(NULL)
  }
  if (isTRUE(how$typed)) {
    return(if (is.null(run$ask)) NULL else run$ask("read_back", list(pass = pass, setting = run$plan$setting)))
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
  if (!is.null(workload$settle)) Sys.sleep(workload$settle)
  unlist(lapply(run$plan$gates, function(gate) {
    if (!is.null(gate$pause)) Sys.sleep(gate$pause)
    if (!is.null(gate$command)) wait_for_gate(run, gate)
  }))
}

# A gate that stays shut does not stop the study: the pass runs, and says so.
wait_for_gate <- function(run, gate) {
  name <- empty_to(gate$name, gate$command)
  wait <- empty_to(gate$wait, 600)
  until <- monotonic_s() + wait
  repeat {
    answer <- ask_command(gate$command, 30, run$folder)$output
    value <- number_by_pattern(answer, empty_to(gate$pattern, "(-?[0-9.]+)"))
    if (is.na(value)) {
      return(paste0("the gate '", name, "' gave no number, so it held nothing back"))
    }
    if (value < empty_to(gate$below, Inf)) {
      return(NULL)
    }
    if (monotonic_s() > until) {
      return(paste0("the gate '", name, "' was still at ", value, " after ", wait, " s, not below ", gate$below))
    }
    run$tell("gate", list(name = name, value = value, below = gate$below))
    Sys.sleep(1)
  }
}
