# The question: what differed between the arms beside the setting?

ask_conditions <- function(x, ..., all = FALSE) {
  assert_no_dots(...)
  x <- what_was_weighed(x)
  found <- if (is_study(x)) study_conditions(x, all = all)
  if (is.null(found)) {
    abort_input(
      "no conditions recorded",
      todo = "only `run` and `add` record them"
    )
  }
  new_answer("conditions", found, x)
}

conditions_words <- function(x) {
  rows <- plain_table(x)
  moved <- rows[rows$seen != "steady", , drop = FALSE]
  if (!nrow(moved)) {
    return("Nothing differed between the arms or drifted, and no other program was at work (--all shows all).")
  }
  character()
}

register("question", "conditions",
  rank = 10, title = "What differed beside the setting", about = "what differed between the arms beside the setting",
  answer = ask_conditions, own = list(all = list(help = "with conditions: the steady ones too")),
  lines = conditions_words,
  line = function(x) {
    moved <- plain_table(x)[x$seen != "steady", , drop = FALSE]
    if (nrow(moved)) paste0(moved$condition, " ", moved$seen, collapse = "; ") else "nothing differed or drifted"
  },
  tables = function(x) list(shown_table(plain_table(x)))
)
