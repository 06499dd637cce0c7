# Questions of the reader, as values: what was seen, what it may mean, and what to say for each meaning.

#' @param code Names the question; its answer is given by it. @param seen What was seen, in a sentence.
#' @param choices List of `offer()`s. @param at Rows of the grid that it is about.
#' @noRd
new_question <- function(code, seen, choices, at = integer()) {
  list(code = code, seen = seen, choices = Filter(length, choices), at = at)
}

#' @param says What it would mean. @param option,value What settles it: an option of the shell (an argument in R) and
#'   its value.
#' @noRd
offer <- function(says, option, value) list(says = says, option = option, value = value)

answer_choice <- function(code, word, says) offer(says, "answer", paste0(code, "=", word))
column_choice <- function(role, heading, says) offer(says, "columns", paste0(role, "=", heading))

# what a column may be, where nobody said it
role_choices <- function(heading, roles) {
  says <- c(
    arm = "the value of the setting", workload = "what was run: compared within each",
    context = "a second factor: compared within each", pass = "numbers the passes",
    measured = "a number that was measured",
    note = "neither; leave it out", block = "a round in which every arm ran", metric = "what each number measures",
    order = "the order in which the passes ran", when = "when the pass ran", value = "the number measured",
    boot = "the start of the machine that passes share",
    attribute = "a fact of the arm (capacity, version, price)"
  )
  lapply(roles, function(role) column_choice(role, heading, says[[role]]))
}

#' What was answered to a question, or nothing
#' @noRd
answered <- function(said, code) if (code %in% names(said$answer)) said$answer[[code]]
