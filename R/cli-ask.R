# The verb `ask`: every question that a study can answer beside its verdicts.

cli_ask <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  if (length(files) > 1) {
    return(show_answer(answer_asked(known_question(files[2], abort_usage), files[1], options), format))
  }
  x <- open_input(files, options)
  given <- if (has_one_arm(x)) list() else question_arguments(list(takes = "weighing"), options)
  show_questions(do.call(ask_study, c(list(x, NULL), given)), files, format, x)
}

#' The answer of one question to what a path holds
#' @noRd
answer_asked <- function(question, path, options) {
  assert_takes(question, options)
  # what is not compared needs no direction
  x <- open_input(path, if (isTRUE(question$uncompared)) c(options, uncompared = TRUE) else options)
  do.call(question$answer, c(list(x), question_arguments(question, options)))
}

#' What the options say, as arguments of the function that answers a question
#' @noRd
question_arguments <- function(question, options) {
  usual <- weigh_options(options)
  arguments <- Filter(length, usual[taken_arguments(question, names(usual))])
  for (name in names(question$own)) {
    one <- question$own[[name]]
    given <- options[[gsub("-", "_", name)]]
    value <- if (is.null(one$read) || !length(given)) given else one$read(given)
    if (length(value)) arguments[[empty_to(one$as, gsub("-", "_", name))]] <- value
  }
  arguments
}

# an option that this question does not take must not seem to have done something
assert_takes <- function(question, options) {
  options_of_question <- function(q) c(taken_arguments(q, names(shared_weighing())), names(q$own))
  each <- lapply(registered("question"), options_of_question)
  # a table is read with its baseline, whatever is asked of it
  idle <- setdiff(unlist(each), c("baseline", options_of_question(question)))
  idle <- idle[gsub("-", "_", idle) %in% given_options(options)]
  if (length(idle)) {
    for_it <- names(Filter(function(all) idle[1] %in% all, each))
    abort_usage(
      paste0("--", idle[1], " is for ", some_of(for_it, 4)), paste("the question", question$name),
      todo = "leave it out here"
    )
  }
}

#' @param ... What is shown of it in a terminal: see what registers itself as `shown`.
#' @noRd
show_answer <- function(found, format, ...) {
  switch(format,
    csv = writeLines(csv_lines(as.data.frame(found))),
    json = writeLines(do.call(json_text, c(answer_as_list(found), list(version = package_version_text())))),
    table = writeLines(answer_shown(found, ...))
  )
  0L
}

show_questions <- function(rows, path, format, x) {
  switch(format,
    csv = writeLines(csv_lines(plain_table(rows))),
    json = writeLines(json_text(
      questions = plain_table(rows), read = read_as_list(x), version = package_version_text()
    )),
    table = writeLines(c(question_lines(plain_table(rows), as_typed(path)), shown_read(x)))
  )
  0L
}

# the options of every question, each once
own_options <- function() {
  all <- unlist(unname(lapply(registered("question"), `[[`, "own")), recursive = FALSE)
  all <- all[!duplicated(names(all))]
  lapply(all, function(one) if (is.null(one$meta)) option_flag(one$help) else option_text(one$meta, one$help))
}

register("verb", "ask",
  takes = "FILE|STUDY [QUESTION]", files = c(1, 2), run = cli_ask,
  examples = c(
    "ask my-study",
    "ask my-study firm"
  ),
  about = "Every question that this study can answer, or one of them.",
  options = function() {
    c(weighing_options(), own_options(), shared_options("format"), list(
      arm = option_text("NAME", "what was measured, where a table has no column that says so")
    ))
  }, rank = 17
)
