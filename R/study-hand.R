# Steps that only a person can do: a firmware menu, a swapped part, a game.

#' Is there a step by hand before this pass that is not done yet?
#'
#' @return `NULL` to go on, or the words for what to do.
#' @noRd
step_by_hand <- function(run, pass) {
  waiting <- if (identical(run$plan$setting$restart, "machine")) {
    restart_step(run, pass)
  } else if (!is.null(run$plan$setting$by_hand)) {
    change_step(run, pass)
  }
  if (is.null(waiting) && is.null(workload_of(run$plan, pass$workload)$command) && is.null(run$ask)) {
    waiting <- paste0(
      pass_words(pass, run$plan), ", is played by hand. Play it, then: honestmargin add ", run$folder,
      " --arm ", shQuote(pass$arm), " --workload ", shQuote(pass$workload), " METRIC=VALUE"
    )
  }
  waiting
}

step_words <- function(plan, pass) {
  arm <- arm_of(plan, pass$arm)
  unit <- empty_to(plan$setting$unit, "")
  how <- empty_to(arm$by_hand, plan$setting$by_hand)
  paste0(
    "set ", plan$setting$name, " to ", pass$arm, if (nzchar(unit)) paste0(" ", unit),
    if (!is.null(how)) paste0(" (", gsub("{arm}", pass$arm, how, fixed = TRUE), ")"),
    if (!is.na(pass$context)) paste0("; ", plan$context$name, " to ", pass$context)
  )
}

last_begun <- function(con) {
  rows <- DBI::dbGetQuery(con, "SELECT pass.* FROM pass JOIN begun USING (pass) ORDER BY begun.rowid DESC LIMIT 1")
  if (nrow(rows)) rows
}

change_step <- function(run, pass) {
  last <- last_begun(run$con)
  same <- !is.null(last) && last$arm == pass$arm && identical(last$context, pass$context)
  if (same || handed_over(run, pass)) {
    return(NULL)
  }
  confirm_step(run, pass, step_words(run$plan, pass))
}

# The machine's own restart shows in its boot id; where the machine under test is
# another one, the tester says so.
restart_step <- function(run, pass) {
  if (handed_over(run, pass)) {
    return(NULL)
  }
  asked <- DBI::dbGetQuery(
    run$con, "SELECT boot FROM handover WHERE start = ? AND done = 0 ORDER BY id DESC LIMIT 1", list(pass$start)
  )
  if (nrow(asked) && asked$boot != run$machine$boot) {
    return(hand_over(run, pass, TRUE))
  }
  confirm_step(run, pass, paste0(step_words(run$plan, pass), ", restart the machine"))
}

handed_over <- function(run, pass) {
  nrow(DBI::dbGetQuery(run$con, "SELECT id FROM handover WHERE start = ? AND done = 1", list(pass$start))) > 0
}

hand_over <- function(run, pass, done) {
  append_rows(
    run$con, "handover",
    data.frame(at = clock_now(), start = pass$start, boot = run$machine$boot, done = as.integer(done))
  )
  NULL
}

confirm_step <- function(run, pass, words) {
  if (!is.null(run$ask) && isTRUE(run$ask("step", list(words = words, pass = pass)))) {
    return(hand_over(run, pass, TRUE))
  }
  hand_over(run, pass, FALSE)
  words
}

#' A workload that a person starts and watches
#' @noRd
by_hand_pass <- function(run, pass, workload) {
  started <- Sys.time()
  watch <- start_watch(run, pass, workload)
  on.exit(if (!is.null(watch$recorder)) end_recorder(watch$recorder))
  outcome <- run$ask("play", list(
    words = pass_words(pass, run$plan), how = workload$by_hand, workload = workload, marks = mark_hint(run, workload)
  ))
  seconds <- as.numeric(difftime(Sys.time(), started, units = "secs"))
  if (outcome == "interrupted") {
    return(list(interrupted = TRUE, seconds = seconds))
  }
  captured <- end_watch(watch)
  good <- outcome %in% c("ok", "artefact")
  values <- if (good) ask_values(run, pass, workload)
  if (good && !is.null(workload$frames)) captured$frames <- ask_frames(run, pass, seconds)
  kept <- keep_capture(run$folder, run$plan, pass, captured)
  kept$readings <- rbind(values, kept$readings)
  note <- run$ask("note", list(pass = pass))
  c(list(status = 0L, seconds = seconds, said = outcome, note = note, played = watch$played), kept)
}

# how to set marks meanwhile, where the workload takes any
mark_hint <- function(run, workload) {
  if (!isTRUE(workload$beacon)) {
    return(NULL)
  }
  what <- if (!is.null(workload$toggle)) {
    paste0("arm VALUE (", some_of(plan_arms(run$plan)), ") at each flip")
  } else if (length(workload$segments)) {
    paste0("segment NAME (", some_of(unlist(workload$segments)), ") where one begins")
  } else {
    "segment NAME where one begins"
  }
  paste0(
    "Meanwhile, from another shell or a hot key: honestmargin mark ", run$folder, " ", what,
    "; pause and resume around menus."
  )
}

ask_values <- function(run, pass, workload) {
  typed <- score_places(run$plan, workload)
  if (!nrow(typed)) {
    return(NULL)
  }
  described <- described_metrics(run$plan)
  unit <- vapply(typed$metric, function(id) empty_to(described[[id]]$unit, NA_character_), "")
  place <- segment_place(pass$workload, typed$segment)
  value <- vapply(seq_len(nrow(typed)), function(i) {
    earlier <- DBI::dbGetQuery(
      run$con, "SELECT value FROM reading WHERE workload = ? AND metric = ?", list(place[i], typed$metric[i])
    )$value
    run$ask("value", list(
      metric = typed$metric[i], segment = typed$segment[i], unit = empty_to(unit[[i]], ""), earlier = earlier
    ))
  }, 1)
  data.frame(
    pass = pass$pass, workload = place, metric = typed$metric, value = value, unit = unit, better = NA_character_,
    row.names = NULL
  )
}

ask_frames <- function(run, pass, seconds) {
  frames <- run$ask("frames", list(pass = pass, layout = run$plan$frames_layout))
  if (!is.null(frames)) log_on_pass(frames, seconds)
}
