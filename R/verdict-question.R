# What is the same for every metric of the same passes, looked at once.

# The same passes pose the same question for every metric of theirs: how they lie is looked at once. They are told by a
# number, since their text may be long.
describe_order <- function(counted, first, role, questions) {
  question <- nth_of(questions, paste(counted$arm, counted$block, counted$boot, counted$order, collapse = "\r"))
  key <- paste("order", question)
  if (is.null(questions[[key]])) {
    crossed <- fully_crossed(counted)
    assign(key, list(
      question = question, of_arm = split(seq_along(counted$arm), counted$arm), rounds = fixed_rounds(counted),
      # where every block holds every arm, each contrast is one in blocks, and none has to be looked at for it
      crossed = crossed, repeated = crossed && anyDuplicated(paste(counted$block, counted$arm)) > 0
    ), questions)
  }
  seen <- questions[[key]]
  seen$order_finding <- problem_with_order(counted, seen$rounds, first, role)
  seen
}

nth_of <- function(questions, text) {
  at <- match(text, questions$.texts)
  if (is.na(at)) {
    at <- length(questions$.texts) + 1L
    questions$.texts[at] <- text
  }
  at
}

# The same passes pose the same question for every metric of theirs: the design is
# recognised once.
design_of <- function(two, arm, baseline, cell, how, questions) {
  # short whatever the arms are called, since the name of a variable has a longest length
  key <- paste(match(arm, how$arms), match(baseline, how$arms), cell$question)
  if (is.null(questions[[key]])) assign(key, recognise_design(two, arm, baseline), questions)
  questions[[key]]
}
