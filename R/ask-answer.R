# One kind of answer to every question that a study can be asked beside its verdicts. A question registers itself: what
# it is called on a page (`title`), what it is `about`, the function that answers it (`answer`, of a study or readings
# and of arguments), which of the options that several verbs know it `takes` (`own`: those that are its own), what it
# `needs` before it can be asked, whether it is asked `elsewhere` than of one study, its `lines`, `tables`, `footing`
# and `findings`, its answer in one `line`, its table for programs (`tidy`, `terms`), and where it stands (`rank`).

#' An answer
#'
#' @param question Name of a registered question.
#' @param found What was found: a data frame, or a list of data frames (`NULL` for those that do not arise).
#' @param x What was asked: a study or readings.
#' @param ... What its words need beside it, as attributes.
#' @return `found`, of class `honestmargin_answer`, with the attributes `question`, `labels`, `weighed` (`x`) and `...`.
#' @noRd
new_answer <- function(question, found, x, ...) {
  checkmate::assert_choice(question, names(registered("question")))
  structure(found,
    class = c("honestmargin_answer", if (is.data.frame(found)) "data.frame"), question = question,
    labels = plan_labels(if (is_study(x)) x$plan), weighed = x, columns = names(found), ...
  )
}

#' The question that an answer is of
#' @noRd
question_of <- function(x) registered("question", attr(x, "question"))

is_answer_to <- function(x, question) inherits(x, "honestmargin_answer") && identical(attr(x, "question"), question)

# a choice of columns is a table, and no longer an answer that has words
is_whole_answer <- function(x) !is.null(attr(x, "question")) && all(attr(x, "columns") %in% names(x))

#' What a question says, with what it is about by name where it has parts
#' @return Named list of character vectors; one without a name where there are no parts.
#' @noRd
answer_lines <- function(x) {
  said <- question_of(x)$lines(x)
  if (is.list(said)) said else Filter(length, list(said))
}

#' Its tables for people
#' @return List of tables from `shown_table()`.
#' @noRd
answer_tables <- function(x) {
  tables <- question_of(x)$tables
  Filter(function(t) NROW(t$table) > 0, if (is.null(tables)) list() else tables(x))
}

#' @param right,whole,group As in `table_lines()`. @param caption What stands above it.
#' @noRd
shown_table <- function(table, right = character(), whole = character(), group = character(), caption = NULL) {
  list(table = table, right = right, whole = whole, group = group, caption = caption)
}

# of one workload without a name, and of one metric, no column says so
without_sole_place <- function(table) {
  if (identical(unique(table$workload), "main")) table$workload <- NULL
  if (length(unique(table$metric)) == 1) table$metric <- NULL
  table
}

answer_footing <- function(x) {
  own <- question_of(x)[["footing"]]
  if (!is.null(own)) own(x)
}

#' The answer in one line, for the list of questions; `NULL` where the question does not arise
#' @noRd
answer_line <- function(x) question_of(x)[["line"]](x)

#' The table that an answer is made of, as a plain data frame
#' @noRd
table_of_answer <- function(x) {
  own <- question_of(x)$tidy
  if (!is.null(own) && is_whole_answer(x)) own(x) else plain_table(x)
}

#' The same as a list, for JSON
#' @noRd
answer_as_list <- function(x) {
  found <- if (is.data.frame(x)) {
    stats::setNames(list(plain_table(x)), empty_to(question_of(x)$key, attr(x, "question")))
  } else {
    unclass(x)[attr(x, "columns")]
  }
  own <- !is.null(question_of(x)[["findings"]])
  c(found, if (own) list(findings = plain_table(findings(x, exploratory = TRUE))), list(
    question = attr(x, "question"), read = read_as_list(x)
  ))
}

# options that several questions take; `as` is the argument that it becomes
prefer_option <- list(
  meta = "A|V,V", help = "order of preference: an attribute, the smallest first (price), or arms",
  read = function(text) split_list(text)
)
metric_option <- function(as) {
  list(meta = "M,M", help = "only these metrics", as = as, read = function(text) split_list(text))
}

#' Answers as tables
#'
#' What [weigh_overall()], [weigh_floors()], [weigh_near()], [weigh_together()], [weigh_cost()], [weigh_frames()],
#' [how_firm()], [noise_sources()], [weigh_screen()] and [ask_study()] return is an answer: it prints its sentences, its
#' tables and what it rests on, and is a plain data frame to `as.data.frame()` and to `tidy()` of the package generics.
#' @param x An answer.
#' @param row.names,optional,... Not used.
#' @return A data frame: the table of the answer ([weigh_overall()]: its questions below one another, in the column
#'   `question`; [weigh_cost()]: its arms).
#' @export
#' @examples
#' found <- weigh_floors(data.frame(arm = "a", value = c(50, 51, 52)), c(score = 40))
#' as.data.frame(found)
as.data.frame.honestmargin_answer <- function(x, row.names = NULL, optional = FALSE, ...) {
  assert_no_dots(...)
  table_of_answer(x)
}

#' @rdname tidy_answers
#' @exportS3Method generics::tidy
tidy.honestmargin_answer <- function(x, ...) {
  assert_no_dots(...)
  terms <- question_of(x)$terms
  if (is.null(terms)) table_of_answer(x) else terms(x)
}

#' @rdname findings
#' @export
findings.honestmargin_answer <- function(x, ..., exploratory = FALSE) {
  assert_no_dots(...)
  own <- question_of(x)[["findings"]]
  if (is.null(own)) in_words(findings_of(x)) else own(x, isTRUE(exploratory))
}

#' Ask a study
#'
#' @param x A study, readings, or what [weigh()] returned.
#' @param question Its name; `NULL`: every question that `x` can answer, in one line each.
#' @param ... Passed to the function that answers it: see [weigh_overall()], [how_firm()], [weigh_frames()],
#'   [noise_sources()], [weigh_floors()], [weigh_near()], [weigh_cost()], [weigh_together()], [weigh_screen()].
#' @return An answer (see [as.data.frame.honestmargin_answer()]); without a question a data frame `question`, `answer`
#'   (in one line; `NA` where it cannot be asked), `needs` (what would have to be given, or why it has none), `about`.
#' @section Errors: `honestmargin_error_input` for an unknown question; else those of the function that answers it.
#' @export
#' @examples
#' study <- read_study(demo_study())
#' ask_study(study, "sources")
ask_study <- function(x, question = NULL, ...) {
  if (is.null(question)) {
    return(questions_of(x, list(...)))
  }
  checkmate::assert_string(question)
  known_question(question)$answer(x, ...)
}

#' A question by its name
#' @param refuse How an unknown one is refused.
#' @noRd
known_question <- function(name, refuse = abort_input) {
  known <- registered("question", name)
  if (is.null(known)) {
    refuse(
      paste0("unknown question '", plain_text(name), "'"), todo = did_you_mean(name, names(registered("question")))
    )
  }
  known
}

#' Which of the arguments that verdicts are weighed by a question takes
#' @noRd
taken_arguments <- function(question, all) {
  if (identical(question$takes, "weighing")) all else intersect(all, question$takes)
}

# every question with its answer in one line; what a question does not take is not passed on to it
questions_of <- function(x, given = list()) {
  rows <- lapply(Filter(function(q) is.null(q$elsewhere), registered("question")), function(q) {
    row <- data.frame(question = q$name, answer = NA_character_, needs = "", about = q$about)
    if (!is.null(q$needs)) {
      row$needs <- q$needs
      return(row)
    }
    takes <- taken_arguments(q, names(given))
    said <- tryCatch(answer_line(do.call(q$answer, c(list(x), given[takes]))), honestmargin_error = identity)
    row$needs <- if (inherits(said, "error")) said$what else if (!length(said)) "nothing to ask here" else ""
    if (is.character(said)) row$answer <- said
    row
  })
  structure(stack_rows(rows), class = c("honestmargin_questions", "data.frame"))
}
