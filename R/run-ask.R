# A question to a person is written down, and whoever answers it first, at the
# terminal or on the board, has answered it.

#' A way to ask that listens to the board too
#'
#' @param run As in `run_pass()`, with `ask`: how the terminal, or another caller, asks. It is given the
#'   facts with `heard()`, which returns `NULL` until the question is answered elsewhere, and may then
#'   return at once: what it returns is not looked at.
#' @return A function of a kind and its facts, or `NULL` where nobody can be asked.
#' @noRd
ask_written_down <- function(run) {
  if (is.null(run$ask)) {
    return(NULL)
  }
  ahead <- new.env(parent = emptyenv())
  function(kind, facts) {
    early <- answered_ahead(ahead, kind, facts)
    if (!is.null(early)) {
      return(early$value)
    }
    question <- store_ask(run$store, kind, facts$pass$pass, facts_on_paper(kind, facts), run$machine)
    facts$heard <- function() store_answered(run$store, question)
    value <- run$ask(kind, facts)
    heard <- facts$heard()
    if (is.null(heard) && store_answer(run$store, question, said_of(kind, value), "terminal")) {
      return(value)
    }
    run$tell("heard", list(kind = kind, pass = facts$pass))
    heard_value(kind, store_answered(run$store, question), facts, ahead)
  }
}

# what a page needs to ask the same; words where the caller made words
facts_on_paper <- function(kind, facts) {
  switch(kind,
    step = list(words = facts$words),
    read_back = list(setting = facts$setting$name, arm = facts$pass$arm, again = facts$again),
    play = c(
      list(facts = facts$facts, how = facts$how, marks = facts$marks, frames = !is.null(facts$workload$frames)),
      list(due = lapply(facts$due, `[`, c("metric", "segment", "unit")))
    ),
    value = facts[c("metric", "segment", "unit")],
    pair = facts[c("pair", "pairs", "workload")],
    list()
  )
}

said_of <- function(kind, value) {
  switch(kind,
    step = list(do = if (isTRUE(value)) "done" else if (isFALSE(value)) "stop" else value),
    play = list(outcome = value),
    value = list(value = as.numeric(value), why = attr(value, "why")),
    frames = list(frames = if (is.character(value)) basename(value) else length(value)),
    pair = value,
    list(text = value)
  )
}

#' The value of an answer that was given on the board
#' @param ahead Where answers to questions that will follow are kept.
#' @noRd
heard_value <- function(kind, said, facts, ahead) {
  switch(kind,
    step = switch(said$do,
      done = TRUE,
      stop = FALSE,
      said$do
    ),
    play = {
      ahead$said <- said
      said$outcome
    },
    value = said_number(said),
    frames = said_log(said),
    pair = said[intersect(c("choice", "note"), names(said))],
    empty_to(said$text, NA_character_)
  )
}

said_number <- function(said) structure(empty_to(said$value, NA_real_), why = said$why)

said_log <- function(said) if (nzchar(empty_to(said$path, ""))) said$path

# the card takes all that a pass leaves at once, so nothing more is asked for it
answered_ahead <- function(ahead, kind, facts) {
  said <- ahead$said
  if (kind %in% c("step", "play", "read_back", "pair") || is.null(said)) {
    ahead$said <- NULL
    return(NULL)
  }
  if (kind == "note") {
    return(list(value = empty_to(said$note, NA_character_)))
  }
  if (kind == "frames") {
    return(list(value = said_log(said)))
  }
  of <- Filter(function(v) identical(c(v$metric, v$segment), c(facts$metric, non_missing(facts$segment))), said$values)
  if (length(of)) list(value = said_number(of[[1]]))
}

non_missing <- function(x) if (!is.na(x)) x

#' How a run without a terminal asks: by the board alone
#' @noRd
ask_on_board <- function(folder) {
  function(kind, facts) {
    seen <- monotonic_s()
    repeat {
      if (!is.null(facts$heard())) {
        return(NULL)
      }
      if (is_board_open(folder)) seen <- monotonic_s()
      # one that is closed and opened again finds the question still there
      if (monotonic_s() - seen > 60) {
        if (kind == "step") {
          return(FALSE)
        }
        abort_stuck("the board was closed", folder, "open it, and run again to go on")
      }
      Sys.sleep(0.2)
    }
  }
}
