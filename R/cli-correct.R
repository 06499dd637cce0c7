# The verb `correct`: what was typed or recorded wrong.

cli_correct <- function(files, options) {
  values <- typed_values(files[-(1:2)])
  if (!length(values) && is.null(options$outcome)) {
    abort_needed("nothing to correct", todo = "give METRIC=VALUE, or --outcome")
  }
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
  about = "Correct what was typed or recorded wrong.",
  options = function() c(list(outcome = option_text("O", "what happened")), shared_options("reason", "part")), rank = 11
)
