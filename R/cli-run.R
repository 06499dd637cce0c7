# The verb `run` and its progress view.

cli_run <- function(files, options) {
  view <- progress_view()
  most <- if (is.null(options$most)) Inf else whole_number(options$most, "most")
  result <- run_study(files[1], ask = if (is_terminal()) ask_person, tell = view, most = most)
  view("over", NULL)
  if (result$state == "done") set_login(files[1], FALSE)
  message(switch(result$state,
    done = paste0("done: ", result$message, ". Weigh them: honestmargin weigh ", files[1]),
    paused = paste0("paused. ", result$message),
    waiting = paste0("waiting for you: ", result$message, "\n  -> then: honestmargin run ", files[1]),
    interrupted = paste0(result$message, "\n  -> go on with: honestmargin run ", files[1])
  ))
  c(done = 0L, paused = 0L, waiting = 5L, interrupted = 130L)[[result$state]]
}

whole_number <- function(text, option) {
  value <- suppressWarnings(as.numeric(text))
  if (is.na(value) || value < 1 || value != round(value)) {
    abort_usage(paste0(
      "--", option, " ", text, ": expected a whole number from 1 on"
    ))
  }
  value
}

#' News of a run as lines on standard error, and a bar where there is a terminal
#' @return A function of kind and facts.
#' @noRd
progress_view <- function() {
  state <- new.env(parent = emptyenv())
  lively <- isatty(stderr())
  clear <- function() if (lively) cat("\r\033[K", file = stderr())
  say <- function(...) {
    clear()
    message(...)
  }
  function(kind, facts) {
    switch(kind,
      begin = {
        state$plan <- facts$plan
        state$began <- Sys.time()
        if (facts$progress$done > 0) {
          say(
            "going on: ", facts$progress$done, " of ", facts$progress$planned, " passes are done"
          )
        }
      },
      pass = state$now <- facts,
      running = if (lively) cat("\r\033[K", bar_line(state, facts), sep = "", file = stderr()),
      gate = say("  waiting: ", facts$name, " is ", facts$value, ", not below ", facts$below),
      lost = say("pass ", facts$pass, " is recorded as lost: ", facts$detail, "; it will be run again"),
      ended = say(ended_line(state, facts)),
      over = clear()
    )
    invisible()
  }
}

bar_line <- function(state, facts) {
  progress <- state$now$progress
  part <- if (is.null(facts$planned)) 0 else min(1, facts$seconds / facts$planned)
  share <- (progress$done + part) / progress$planned
  filled <- round(20 * share)
  left <- if (progress$done > 0) (progress$planned - progress$done) * progress$seconds / progress$done - facts$seconds
  block <- if (is.na(facts$pass$block)) "warm-up" else paste("block", facts$pass$block)
  text <- paste0(
    "[", strrep("#", filled), strrep(".", 20 - filled), "] ", progress$done, "/", progress$planned, "  ", block,
    "  ", facts$pass$arm, "  ",
    facts$pass$workload, "  ", clock_words(facts$seconds),
    if (!is.null(left) && !is.na(left)) paste0("  about ", clock_words(max(0, left)), " left")
  )
  substr(plain_text(text), 1, 79)
}

clock_words <- function(seconds) {
  seconds <- round(seconds)
  if (seconds < 3600) {
    sprintf(
      "%d:%02d", seconds %/% 60, seconds %% 60
    )
  } else {
    sprintf("%d:%02d:%02d", seconds %/% 3600, seconds %/% 60 %% 60, seconds %% 60)
  }
}

ended_line <- function(state, facts) {
  readings <- facts$readings
  primary <- empty_to(plan_primary(state$plan), unique(readings$metric))
  shown <- utils::head(readings[readings$metric %in% primary, , drop = FALSE], 3)
  pass <- facts$pass
  progress <- state$now$progress
  plain_text(paste0(
    sprintf("%3d/%d  ", progress$done + 1, progress$planned),
    if (is.na(pass$block)) "warm-up" else paste("block", pass$block), "  ", pass$arm, "  ",
    pass$workload, "  ", facts$outcome,
    if (NROW(shown)) paste0("  ", paste(shown$metric, format(signif(shown$value, 5), trim = TRUE), collapse = "  ")),
    if (!is.null(facts$detail)) paste0("  (", facts$detail, ")")
  ))
}
