# The verb `ask`: every question that a study can answer beside its verdicts.

cli_ask <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  name <- if (length(files) > 1) files[2]
  question <- if (!is.null(name)) asked_question(name)
  if (!is.null(question)) assert_takes(question, options)
  x <- open_input(files[1], options)
  if (is.null(question)) {
    given <- if (has_one_arm(x)) list() else question_arguments(list(takes = "weighing"), options)
    return(show_questions(do.call(ask_study, c(list(x, NULL), given)), files[1], format, x))
  }
  show_answer(do.call(question$answer, c(list(x), question_arguments(question, options))), format)
}

asked_question <- function(name) {
  known <- registered("question", name)
  if (is.null(known)) {
    abort_usage(
      paste0("unknown question '", plain_text(name), "'"), todo = did_you_mean(name, names(registered("question")))
    )
  }
  known
}

#' What the options say, as arguments of the function that answers a question
#' @noRd
question_arguments <- function(question, options) {
  usual <- weigh_options(options)
  takes <- if (identical(question$takes, "weighing")) names(usual) else question$takes
  arguments <- Filter(length, usual[takes])
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
  usual <- names(shared_weighing())
  takes <- if (identical(question$takes, "weighing")) usual else question$takes
  # a table is read with its baseline, whatever is asked of it
  of_others <- setdiff(c(usual, unlist(lapply(registered("question"), function(q) names(q$own)))), "baseline")
  idle <- intersect(gsub("-", "_", setdiff(of_others, c(takes, names(question$own)))), given_options(options))
  if (length(idle)) {
    for_it <- Filter(function(q) {
      idle[1] %in% gsub("-", "_", c(if (identical(q$takes, "weighing")) usual else q$takes, names(q$own)))
    }, registered("question"))
    abort_usage(
      paste(option_word(idle[1]), "is for", some_of(names(for_it), 4)), paste("the question", question$name),
      todo = "leave it out here"
    )
  }
}

show_answer <- function(found, format) {
  switch(format,
    csv = writeLines(csv_lines(as.data.frame(found))),
    json = writeLines(do.call(json_text, c(answer_as_list(found), list(version = package_version_text())))),
    table = print(found)
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
  options = function() c(weighing_options(), own_options(), shared_options("format")), rank = 17
)
