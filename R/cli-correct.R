# The verb `correct`: what was typed or recorded wrong.

cli_correct <- function(files, options) {
  values <- typed_values(files[-(1:2)])
  place <- options[intersect(names(options), c("arm", "workload", "block"))]
  place <- Filter(length, place)
  if (!length(values) && is.null(options$outcome) && !length(place)) {
    abort_needed("nothing to correct", todo = "give METRIC=VALUE, --outcome, --arm, --workload or --block")
  }
  if (length(place)) do.call(correct_place, c(list(files[1], files[2], options$reason), place))
  for (metric in names(values)) {
    correct_reading(files[1], files[2], metric, values[[metric]], options$reason, part = part_number(options))
  }
  if (!is.null(options$outcome)) {
    correct_outcome(files[1], files[2], options$outcome, options$reason, part = part_number(options))
  }
  tell_user("corrected; what was recorded first stays in the history")
}

register("verb", "correct",
  takes = "STUDY PASS [METRIC=VALUE ...]", files = c(2, Inf), run = cli_correct,
  examples = c(
    "correct my-study p004 score=12400 --reason 'misread'",
    "correct my-study p003 --outcome crash --reason 'it had frozen'"
  ),
  about = "Correct what was typed or recorded wrong.",
  options = function() {
    c(list(
      outcome = option_text("O", "what happened"), arm = option_text("ARM", "the arm it belongs to"),
      workload = option_text("W", "the workload it is of"), block = option_text("B", "the block it is in")
    ), shared_options("reason", "part"))
  },
  rank = 11
)
