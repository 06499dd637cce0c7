# The question: how did the passes end?

ask_outcomes <- function(x, ...) {
  assert_no_dots(...)
  x <- what_was_weighed(x)
  if (!is_study(x)) x <- readings_of(x)
  new_answer("outcomes", outcome_table(x), x, failed = failed_arms(x))
}

register("question", "outcomes",
  rank = 12, title = "How the passes ended", about = "how the passes ended, and the failure rate",
  answer = ask_outcomes,
  lines = function(x) {
    said <- failed_arm_sentences(attr(x, "failed"), labels_of(x))
    if (length(said)) said else "Every counted pass ended well."
  },
  line = function(x) {
    paste(sum(x$failed), "of", count_of(sum(x$tried), "pass", "passes"), "failed")
  },
  tables = function(x) {
    list(shown_table(outcomes_shown(plain_table(x), labels_of(x)), "exposure", group = c("workload", "context")))
  },
  footing = function(x) outcomes_note
)
