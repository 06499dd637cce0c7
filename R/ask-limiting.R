# The question: which part limited the passes?

ask_limiting <- function(x, ...) {
  assert_no_dots(...)
  x <- what_was_weighed(x)
  found <- if (is_study(x)) limiting_by_arm(x)
  if (is.null(found)) {
    abort_input("no sensor and no frame says what limited the passes", todo = "run it with sensors, or add them")
  }
  new_answer("limiting", found, x)
}

register("question", "limiting",
  rank = 13, title = "What limited the passes", about = "which part limited the passes of each arm",
  answer = ask_limiting,
  lines = function(x) {
    said <- limiting_sentences(plain_table(x), labels_of(x))
    if (length(said)) paste0(names(said), ": ", said) else "No sensor and no frame says what limited the passes."
  },
  line = function(x) {
    place <- place_names(plain_table(x))
    each <- tapply(x$limiting, factor(place, unique(place)), function(parts) paste(unique(parts), collapse = ", "))
    paste0(names(each), " by ", each, collapse = "; ")
  },
  tables = function(x) {
    rows <- plain_table(x)
    rows$arm <- arm_names(rows$arm, labels_of(x))
    if (all(is.na(rows$context))) rows$context <- NULL
    rows$evidence <- format(new_codes(lapply(rows$evidence, list)))
    list(shown_table(rows, group = c("workload", "context")))
  },
  footing = function(x) {
    paste(
      "A setting that loads a part which was idle changes nothing. Each second of a pass is given the part that was at",
      "its limit; a pass is given the part that was so for most of its seconds, if that is a third of them."
    )
  },
  report = function(verdicts) tryCatch(ask_limiting(verdicts), honestmargin_error_input = function(e) NULL)
)
