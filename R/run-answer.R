# What a person says to a question is checked, wherever it was said.

#' A number that was typed for a metric
#'
#' @param text What was typed. @param facts `earlier` values of this arm, `elsewhere` those of all arms.
#' @param sure Whether a value far from the usual was confirmed.
#' @return A list with `value`, or with `why_not`: a code.
#' @noRd
take_number <- function(text, facts, sure = FALSE) {
  if (tolower(text) %in% c("none", "-")) {
    return(list(value = NA_real_))
  }
  parsed <- parse_typed_numbers(text)
  if (length(parsed$bad) || is.na(parsed$value)) {
    return(list(why_not = new_code("no_number")))
  }
  # the first number of an arm is only held against what no setting would change
  known <- if (length(facts$earlier)) facts$earlier else stats::median(facts$elsewhere)
  if (!sure && looks_odd(parsed$value, known)) {
    return(list(why_not = new_code("far_off", typed = text, usual = stats::median(known))))
  }
  list(value = parsed$value)
}

#' Answer the question that a run asks just now
#'
#' @param folder Study folder. @param question Its number. @param said Named list of texts: what the fields of the
#'   card hold. `do`, `outcome`, `text`, `note`, `why`, `sure` (`"yes"`), and one for each number that is due,
#'   called as [add_pass()] calls it.
#' @param log Path of a frame log that came with it, or `NULL`.
#' @return A list: `state` (`taken`, `past` where it was answered before, `refused`) and `why_not` (a named list
#'   of codes by field).
#' @noRd
answer_run <- function(folder, question, said, log = NULL) {
  with_store(folder, blind = TRUE, code = function(store) {
    asked <- store_question(store)
    if (is.null(asked) || !identical(as.integer(asked$id), as.integer(question))) {
      return(list(state = "past"))
    }
    said <- lapply(said, typed_text)
    # never a path that was typed on a page: it would open any file here to whoever has the key
    said$path <- log
    checked <- checked_said(store, asked, said)
    if (length(checked$why_not)) {
      return(c(state = "refused", checked["why_not"]))
    }
    list(state = if (store_answer(store, asked$id, checked$said, "board")) "taken" else "past")
  })
}

typed_text <- function(text) plain_text(trimws(paste(substr(as.character(text), 1, 2000), collapse = " ")))

checked_said <- function(store, asked, said) {
  refuse <- function(field, code) list(why_not = stats::setNames(list(code), field))
  known_words <- list(step = c("done", "stop", "no_start"), play = outcomes_said, pair = pair_choices)
  field <- c(step = "do", play = "outcome", pair = "choice")[asked$kind]
  if (!is.na(field) && !isTRUE(said[[field]] %in% known_words[[asked$kind]])) {
    return(refuse(field, new_code("no_such_word", known = known_words[[asked$kind]])))
  }
  switch(asked$kind,
    step = list(said = said["do"]),
    play = checked_pass(store, asked, said, refuse),
    value = {
      taken <- take_number(empty_to(said$value, ""), usual_values(store, asked$pass, asked$facts), is_sure(said))
      if (is.null(taken$why_not)) list(said = c(taken, said["why"])) else refuse("value", taken$why_not)
    },
    frames = checked_log(store, said, refuse),
    pair = list(said = c(said["choice"], note = if (nzchar(empty_to(said$note, ""))) said$note)),
    list(said = list(text = if (nzchar(empty_to(said$text, ""))) said$text))
  )
}

is_sure <- function(said) identical(said$sure, "yes")

# all that a pass leaves, at once
checked_pass <- function(store, asked, said, refuse) {
  out <- list(outcome = said$outcome, note = if (nzchar(empty_to(said$note, ""))) said$note)
  if (!said$outcome %in% outcomes_well) {
    return(list(said = out))
  }
  due <- asked$facts$due
  due <- if (length(due)) split(due, seq_len(nrow(due))) else list()
  taken <- lapply(due, function(d) {
    name <- typed_name(empty_to(d$segment, NA), d$metric)
    take_number(empty_to(said[[name]], ""), usual_values(store, asked$pass, d), is_sure(said))
  })
  names(taken) <- vapply(due, function(d) typed_name(empty_to(d$segment, NA), d$metric), "")
  wrong <- Filter(function(t) !is.null(t$why_not), taken)
  if (length(wrong)) {
    return(list(why_not = lapply(wrong, `[[`, "why_not")))
  }
  out$values <- unname(Map(function(d, t) {
    c(list(metric = d$metric, value = t$value, why = said$why), if (!is.na(empty_to(d$segment, NA))) d["segment"])
  }, due, taken))
  log <- checked_log(store, said, refuse)
  if (length(log$why_not)) log else list(said = c(out, log$said))
}

checked_log <- function(store, said, refuse) {
  if (!nzchar(empty_to(said$path, ""))) {
    return(list(said = list(path = NULL)))
  }
  wrong <- log_refused(said$path, store_plan(store)$frames_layout, stored_as(store, said$path))
  if (is.null(wrong)) list(said = said["path"]) else refuse("log", wrong)
}

#' Why a frame log cannot be that of a pass
#' @param before Pass whose log it was already, or `NULL`.
#' @return A code, or `NULL` where it can.
#' @noRd
log_refused <- function(path, layout, before) {
  if (length(before)) {
    return(new_code("log_of_other", before = before))
  }
  read <- tryCatch(read_frames(path, layout), honestmargin_error_input = identity)
  if (inherits(read, "error")) new_code("no_log", what = sub("\n.*", "", conditionMessage(read)))
}

#' What is usual for a number: `earlier` of this arm, `elsewhere` of all arms
#' @noRd
usual_values <- function(store, pass, facts) {
  if (is.character(pass)) pass <- store_pass(store, pass)
  segment <- empty_to(facts$segment, NA_character_)
  list(
    earlier = store_values(store, pass, segment, facts$metric),
    elsewhere = store_values(store, pass, segment, facts$metric, any_arm = TRUE)
  )
}
