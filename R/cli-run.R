# The verb `run` and its progress view.

cli_run <- function(files, options) {
  view <- progress_view()
  # by its whole name: `$` would take most_blocks for it
  most <- if (is.null(options[["most"]])) Inf else whole_number(options[["most"]], "most")
  most_blocks <- if (!is.null(options$most_blocks)) whole_number(options$most_blocks, "most-blocks")
  if (length(most_blocks) && !options$until_settled) {
    abort_usage("--most-blocks is for a run that looks after every block", todo = "add --until-settled")
  }
  result <- run_study(
    files[1],
    ask = if (is_terminal()) ask_person else if (is_board_open(files[1])) ask_on_board(files[1]), tell = view,
    most = most, until_settled = options$until_settled,
    most_blocks = most_blocks, give_up = options$give_up
  )
  view("over", NULL)
  if (result$state %in% c("done", "settled")) set_login(files[1], FALSE)
  if (result$state == "done" && is_search(read_plan(files[1]))) {
    tell_user("done: ", search_sentences(read_search(files[1]))[1], " See: honestmargin search ", files[1])
    return(0L)
  }
  tell_user(switch(result$state,
    done = paste0("done: ", result$message, ". ", what_next(files[1])),
    settled = paste0("stopped: ", result$message, ". Weigh them: honestmargin weigh ", files[1]),
    paused = paste0("paused. ", result$message),
    waiting = paste0("waiting for you: ", result$message, "\n  -> then: honestmargin run ", files[1]),
    interrupted = paste0(result$message, "\n  -> go on with: honestmargin run ", files[1]),
    stopped = result$message
  ))
  c(done = 0L, settled = 0L, paused = 0L, waiting = 5L, interrupted = 130L, stopped = 4L)[[result$state]]
}

what_next <- function(folder) {
  plan <- read_plan(folder)
  if (is_blind(plan)) {
    return(paste0("Which was preferred: honestmargin ask ", folder, " blind"))
  }
  together <- is_together(plan)
  paste0(if (together) "What each option does: honestmargin screen " else "Weigh them: honestmargin weigh ", folder)
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

#' News of a run: a line per pass on standard error, and a bar below them where
#' there is a terminal
#' @return A function of kind and facts.
#' @noRd
progress_view <- function() {
  state <- new.env(parent = emptyenv())
  lively <- cli::is_dynamic_tty(stderr())
  news <- function(text) {
    text <- plain_text(text)
    # cli folds plain spaces
    wide <- gsub(" ", "\u00a0", text, fixed = TRUE)
    # a bar that is full is taken away; the run may go on by a block all the same
    if (!is.null(state$bar)) {
      state$bar <- tryCatch(
        {
          cli::cli_progress_output("{wide}", id = state$bar)
          state$bar
        },
        error = function(e) NULL
      )
    }
    if (is.null(state$bar)) tell_user(text)
  }
  function(kind, facts) {
    switch(kind,
      begin = {
        state$plan <- facts$plan
        p <- facts$progress
        if (p$done > 0) news(going_on_words(p, facts$plan))
        if (!is.null(facts$order)) lapply(order_lines(facts$order), news)
        if (lively) state$bar <- progress_bar(p$planned)
      },
      pass = {
        state$now <- facts
        state$shown <- FALSE
      },
      running = if (lively) {
        if (is.null(state$bar)) state$bar <- progress_bar(state$now$progress$planned)
        show_bar(state, state$now$progress$done, bar_words(state, facts))
        state$shown <- TRUE
      },
      gate = news(paste0(
        "  waiting: ", facts$name, if (!is.na(facts$value)) paste0(" is ", facts$value, ","), " not below ", facts$below
      )),
      lost = news(paste0(
        "pass ", facts$pass, " is recorded as ", facts$outcome, ": ", words_of(
          facts$why$code, facts$why$values
        )[1], if (facts$again) "; it will be run again" else if (facts$outcome == "lost") again_no_more
      )),
      # where a program reads it, a pass is a line
      ended = {
        lapply(ended_lines(state, facts, if (lively) cli::console_width() else Inf), news)
        # until the next one runs; a full bar would be taken away, and a pass by hand shows none
        done <- state$now$progress$done + 1
        if (!is.null(state$bar) && isTRUE(state$shown) && done < state$now$progress$planned) {
          show_bar(state, done, "between passes")
        }
      },
      look = lapply(look_lines(facts), news),
      heard = news("  answered on the board"),
      rung = news(rung_line(facts, state$plan)),
      over = if (!is.null(state$bar)) {
        tryCatch(cli::cli_progress_done(id = state$bar), error = function(e) NULL)
        state$bar <- NULL
      }
    )
    invisible()
  }
}

going_on_words <- function(p, plan) {
  paste0("going on: ", p$done, if (!is_search(plan)) paste(" of", p$planned), " passes are done")
}

# what was fixed beforehand can be checked afterwards
order_lines <- function(hash) {
  c("blind pairs: their order is fixed, and told when every pair is judged. SHA-256 of it:", paste0("  ", hash))
}

again_no_more <- "; it was tried three times and is not run again"

progress_bar <- function(total) {
  cli::cli_progress_bar(
    total = total, clear = TRUE, .auto_close = FALSE, .envir = globalenv(),
    format = "{cli::pb_current}/{cli::pb_total} {cli::pb_status}", format_done = "", format_failed = ""
  )
}

show_bar <- function(state, done, words) {
  total <- state$now$progress$planned
  room <- cli::console_width() - nchar(paste0(done, "/", total, words)) - 5
  cli::cli_progress_update(
    set = done, total = total, status = paste0(words, "  ", drawn_bar(done / total, min(30, room))), id = state$bar,
    force = TRUE
  )
}

# what is still to do is seen too
drawn_bar <- function(share, width) {
  full <- round(share * max(0, width))
  paste0(cli::col_green(strrep("\u25a0", full)), cli::col_grey(strrep("\u00b7", max(0, width - full))))
}

bar_words <- function(state, facts) {
  p <- state$now$progress
  left <- if (p$done > 0) (p$planned - p$done) * p$seconds / p$done - facts$seconds else NA
  plain_text(paste0(
    turn_words(facts$pass), "  ", with_unit(
      facts$pass$arm, state$plan$setting$unit
    ),
    "  ", facts$pass$workload, "  ",
    clock_words(empty_to(p$seconds, 0) + facts$seconds), " run",
    if (!is.na(left)) paste0(", ", clock_words(max(0, left)), " left")
  ))
}

# what was noted stands below where it would be torn at the edge
ended_lines <- function(state, facts, width) {
  progress <- state$now$progress
  outcome <- if ("not_held" %in% facts$findings$code) "failed" else facts$outcome
  noted <- c(facts$note, record_words(facts$findings))
  line <- function(why = character()) {
    plain_text(paste0(
      sprintf("%3d", progress$done + 1), if (!is_search(state$plan)) paste0("/", progress$planned), "  ",
      pass_line(facts$pass, state$plan, outcome, facts$readings, why)
    ))
  }
  whole <- line(noted)
  if (nchar(whole) <= width) whole else c(line(), fold(paste(noted, collapse = "; "), "       ", "       ", width))
}

# each comparison as it closes in
look_lines <- function(facts) {
  seen <- facts$seen
  count <- table(factor(seen$state, c("settled", "open", "hopeless", "closed")))
  count <- count[count > 0]
  open <- seen[seen$state == "open", , drop = FALSE]
  shown <- utils::head(open, 6)
  counts <- is.finite(shown$more_passes) & shown$more_passes > 0
  c(
    paste0("  look after block ", facts$block, ": ", paste(count, names(count), collapse = ", ")),
    if (nrow(shown)) {
      paste0(
        "    open: ", place_names(shown), " ", shown$metric, " ", shown$arm, "  ",
        ifelse(is.na(shown$lower), "too few blocks yet", shown_interval(shown)),
        ifelse(counts, paste0(", about ", shown$more_passes, " more"), "")
      )
    },
    if (nrow(open) > nrow(shown)) paste0("    and ", nrow(open) - nrow(shown), " more")
  )
}

register("verb", "run",
  takes = "STUDY", files = c(1, 1), run = cli_run,
  examples = c(
    "run my-study",
    "run my-study --until-settled --most-blocks 6"
  ),
  about = "Run a study, or go on with it where it stopped.",
  options = function() {
    list(
      most = option_text("N", "run at most so many passes"),
      `until-settled` = option_flag("look after every block, stop when every primary comparison is settled"),
      `give-up` = option_flag("end blind pairs before all are judged, and reveal their arms; nothing is run"),
      `most-blocks` = option_text("N", "with --until-settled: run at most so many blocks (four times the plan's)")
    )
  }, rank = 4
)
