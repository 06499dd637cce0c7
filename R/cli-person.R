# Questions to a person at a terminal. Answers are checked and asked for again,
# never refused for good.

read_answer <- function(prompt) {
  cat(prompt, file = stderr())
  if (is.null(cache$answers)) cache$answers <- file("stdin", "r")
  if (isatty(stdin())) {
    while (!can_be_read(0L, 200L)) {
      # the prompt is left as soon as the board has answered
      if (!is.null(cache$heard) && !is.null(cache$heard())) invokeRestart("answered_elsewhere")
    }
  }
  line <- readLines(cache$answers, n = 1, warn = FALSE)
  if (!length(line)) abort_stuck("the answers ended", todo = "run again to go on")
  trimws(line)
}

is_terminal <- function() {
  getOption("honestmargin.asks", TRUE) && (isatty(stdin()) || nzchar(Sys.getenv("HONESTMARGIN_ASK")))
}

#' The answers a person gives while a study runs
#' @noRd
ask_person <- function(kind, facts) {
  cache$heard <- facts$heard
  on.exit(cache$heard <- NULL)
  withRestarts(
    switch(kind,
      step = ask_step(facts),
      read_back = read_answer(paste0(
        if (facts$again) {
          paste0("  that is not ", facts$pass$arm, ". Once more: ")
        }, "What does the machine show for ", facts$setting$name, "? "
      )),
      play = ask_play(facts),
      value = ask_value(facts),
      note = {
        text <- read_answer("Anything seen or felt? (empty for no) ")
        if (nzchar(text)) text else NA_character_
      },
      frames = ask_frames_path(facts),
      pair = ask_pair(facts)
    ),
    answered_elsewhere = function() NULL
  )
}

ask_step <- function(facts) {
  tell_user("\n", paste(fold(paste0("NEXT STEP: ", facts$words), rest = "  "), collapse = "\n"))
  repeat {
    answer <- tolower(read_answer("Done? y to go on, x if it did not start so, q to stop here and go on later: "))
    if (answer %in% c("y", "yes")) {
      return(TRUE)
    }
    if (answer %in% c("q", "quit", "n", "no")) {
      return(FALSE)
    }
    if (answer == "x") {
      return("no_start")
    }
    tell_user("  y, x or q, please")
  }
}

ask_play <- function(facts) {
  tell_user("\n", paste(fold(paste0("NOW: ", pass_words(facts$facts)), rest = "  "), collapse = "\n"))
  if (!is.null(facts$how)) tell_user(paste(fold(facts$how, first = "  "), collapse = "\n"))
  if (!is.null(facts$marks)) tell_user(paste(fold(mark_words_for(facts$marks), first = "  "), collapse = "\n"))
  repeat {
    answer <- tolower(read_answer("Enter when it is over; else what happened (? lists), q stops: "))
    if (answer == "") {
      return("ok")
    }
    if (answer == "q") {
      return("interrupted")
    }
    if (answer %in% outcomes_said) {
      return(answer)
    }
    tell_user("  known: ", paste(outcomes_said, collapse = ", "))
  }
}

ask_value <- function(facts) {
  repeat {
    text <- read_answer(paste0(
      if (!is.na(facts$segment)) paste0(facts$segment, ", "), facts$metric,
      if (nzchar(facts$unit)) paste0(" (", facts$unit, ")"), ": "
    ))
    taken <- take_number(text, facts)
    if (is.null(taken$why_not)) {
      if (!is.na(taken$value)) {
        return(taken$value)
      }
      return(structure(NA_real_, why = read_answer("  why is there none? (empty if nobody knows) ")))
    }
    words <- code_text(taken$why_not)
    if (taken$why_not$code != "far_off") {
      tell_user("  ", words)
    } else if (tolower(read_answer(paste0("  ", words, ". Keep it? y/n: "))) %in% c("y", "yes")) {
      return(take_number(text, facts, sure = TRUE)$value)
    }
  }
}

ask_pair <- function(facts) {
  tell_user("\n", "PAIR ", facts$pair, " of ", facts$pairs, ", ", facts$workload, ": which of the two was better?")
  words <- c("1" = "first", "2" = "second", "0" = "none", q = "stop")
  repeat {
    answer <- tolower(read_answer("1 the first, 2 the second, 0 no difference; q to stop here and judge it later: "))
    if (answer %in% names(words)) break
    tell_user("  1, 2, 0 or q, please")
  }
  if (answer == "q") {
    return(list(choice = "stop"))
  }
  note <- read_answer("Anything seen or felt? (empty for no) ")
  c(list(choice = words[[answer]]), if (nzchar(note)) list(note = note))
}

ask_frames_path <- function(facts) {
  repeat {
    path <- read_answer("Path of the frame log (empty for none): ")
    if (!nzchar(path)) {
      return(NULL)
    }
    wrong <- log_refused(path, facts$layout, facts$stored_as(path))
    if (is.null(wrong)) {
      return(path)
    }
    tell_user("  ", code_text(wrong))
  }
}
