# Steps that only a person can do: a firmware menu, a swapped part, a game.

#' Is there a step by hand before this pass that is not done yet?
#'
#' @return `NULL` to go on, or a code for what to do.
#' @noRd
step_by_hand <- function(run, pass) {
  waiting <- if (run$plan$setting$restart == "machine") {
    restart_step(run, pass)
  } else if (!is.null(run$plan$setting$by_hand)) {
    change_step(run, pass)
  }
  if (is.null(waiting) && is.null(workload_of(run$plan, pass$workload)$command) && is.null(run$ask)) {
    waiting <- do.call(new_code, c("play_by_hand", pass_facts(pass, run$plan), folder = run$folder))
  }
  waiting
}

#' The step before a pass, as a code
#' @noRd
step_code <- function(plan, pass, restart = FALSE) {
  facts <- pass_facts(pass, plan)
  facts$how <- gsub(
    "{arm}", pass$arm, empty_to(empty_to(arm_of(plan, pass$arm)$by_hand, plan$setting$by_hand), ""),
    fixed = TRUE
  )
  do.call(new_code, c("step", facts, restart = restart))
}

change_step <- function(run, pass) {
  last <- store_last(run$store)
  same <- !is.null(last) && last$arm == pass$arm && identical(last$context, pass$context)
  again <- fell_over(last) || (!is.null(last) && last$boot != run$machine$boot)
  if (!again && (same || handed_over(run, pass))) {
    return(NULL)
  }
  confirm_step(run, pass, step_with_search(run, pass, step_code(run$plan, pass)))
}

step_with_search <- function(run, pass, step) {
  if (pass$role %in% search_roles) step$values <- c(step$values, search_facts(run$store, pass))
  step
}

# The machine's own restart shows in its boot id; where the machine under test is
# another one, the tester says so.
restart_step <- function(run, pass) {
  # without a person nobody can say that it was set again; the read-back tells
  again <- !is.null(run$ask) && fell_over(store_last(run$store))
  if (handed_over(run, pass) && !again) {
    return(NULL)
  }
  asked <- store_handover(run$store, pass)
  asked <- asked$boot[asked$done == 0]
  if (length(asked) && asked[length(asked)] != run$machine$boot) {
    return(hand_over(run, pass, TRUE))
  }
  confirm_step(run, pass, step_with_search(run, pass, step_code(run$plan, pass, restart = TRUE)))
}

# what falls over may come up again without its setting
fell_over <- function(last) isTRUE(last$outcome %in% c(outcomes_down, "wrong_setting"))

handed_over <- function(run, pass) any(store_handover(run$store, pass)$done == 1)

hand_over <- function(run, pass, done) {
  store_hand_over(run$store, pass, run$machine$boot, done)
  NULL
}

confirm_step <- function(run, pass, step) {
  words <- code_text(step)
  answer <- if (!is.null(run$ask)) run$ask("step", list(words = words, pass = pass))
  if (isTRUE(answer)) {
    return(hand_over(run, pass, TRUE))
  }
  if (identical(answer, "no_start")) {
    return(new_code("would_not_start"))
  }
  hand_over(run, pass, FALSE)
  step
}

#' A workload that a person starts and watches
#' @noRd
by_hand_pass <- function(run, pass, workload) {
  started <- monotonic_s()
  watch <- start_watch(run, pass, workload)
  on.exit(stop_watch(watch))
  due <- values_due(run, pass, workload)
  outcome <- run$ask("play", list(
    pass = pass, facts = pass_facts(pass, run$plan), how = workload$by_hand, workload = workload,
    marks = mark_hint(run, workload), due = due
  ))
  seconds <- monotonic_s() - started
  if (outcome == "interrupted") {
    return(list(interrupted = TRUE, seconds = seconds))
  }
  captured <- end_watch(watch, seconds)
  good <- outcome %in% outcomes_well
  asked <- if (good) ask_values(run, due)
  given <- if (good && !is.null(workload$frames)) ask_log(run, pass, seconds)
  captured$found <- bind_findings(captured$found, asked$found, given$found)
  if (!is.null(given$frames)) captured$frames <- given$frames
  kept <- keep_capture(run$store, run$plan, pass, captured, asked$typed)
  note <- run$ask("note", list(pass = pass))
  list(
    status = 0L, seconds = seconds, said = outcome, note = note, played = watch$played, taken = given$taken, kept = kept
  )
}

#' The frame log of a pass that a person captured
#' @return `NULL` where there is none; else a list `frames`, `found` (what its reader warned of), `taken` (how it is
#'   known again).
#' @noRd
ask_log <- function(run, pass, seconds) {
  layout <- run$plan$frames_layout
  log <- run$ask("frames", list(pass = pass, layout = layout, stored_as = function(path) stored_as(run$store, path)))
  if (is.null(log)) {
    return(NULL)
  }
  before <- if (is.character(log)) stored_as(run$store, log)
  if (length(before)) {
    return(list(found = new_finding("warning", "log_of_other", before = before)))
  }
  read <- if (is.character(log)) read_frames(log, layout) else data.frame(frame_time_ms = log)
  list(
    frames = log_on_pass(read$frame_time_ms, seconds), found = attr(read, "findings"),
    taken = if (is.character(log)) taken_row(log, pass$pass)
  )
}

#' What can be marked meanwhile, where the workload takes any: for tellers
#' @return `NULL`, or a list `folder`, `arms` (of a toggled one), `segments`.
#' @noRd
mark_hint <- function(run, workload) {
  if (workload$beacon) {
    list(
      folder = run$folder, arms = if (!is.null(workload$toggle)) plan_arms(run$plan), segments = workload$segments
    )
  }
}

#' The numbers that a person reads off after a pass
#' @return A list of lists: `pass`, `metric`, `segment`, `unit`, and what is usual for it.
#' @noRd
values_due <- function(run, pass, workload) {
  places <- score_places(run$plan, workload)
  if (!nrow(places)) {
    return(list())
  }
  unit <- typed_readings(run$plan, places, NA_real_)$unit
  lapply(seq_len(nrow(places)), function(i) {
    place <- list(pass = pass, metric = places$metric[i], segment = places$segment[i], unit = empty_na(unit[i]))
    c(place, usual_values(run$store, pass, place))
  })
}

ask_values <- function(run, due) {
  if (!length(due)) {
    return(NULL)
  }
  answers <- lapply(due, function(facts) run$ask("value", facts))
  column <- function(name) vapply(due, `[[`, "", name)
  rows <- typed_readings(run$plan, data.frame(metric = column("metric"), segment = column("segment")), NA_real_)
  rows$value <- vapply(answers, as.numeric, 1)
  found <- lapply(seq_along(answers), function(i) {
    why <- empty_to(attr(answers[[i]], "why"), "")
    if (nzchar(why)) {
      new_finding(
        "note", "none_given",
        metric_said = typed_name(due[[i]]$segment, due[[i]]$metric), why = why
      )
    }
  })
  list(typed = rows, found = do.call(bind_findings, found))
}
