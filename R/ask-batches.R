# The question: what does each batch say, weighed alone?

ask_batches <- function(x, ...) {
  x <- what_was_weighed(x)
  if (!is_study(x) || is.null(x$sealed) || length(study_batches(x$folder)) < 2) {
    abort_input("there is one batch only", todo = "a second one: honestmargin repeat")
  }
  weighed <- weigh_batches(x$folder, ...)
  new_answer("batches", attr(weighed, "batches"), x, shown = batches_side_by_side(weighed))
}

register("question", "batches",
  rank = 14, title = "Each batch weighed alone", about = "each batch weighed alone, side by side",
  answer = ask_batches, takes = "weighing", lines = function(x) character(),
  line = function(x) paste(length(unique(x$batch)), "batches"),
  tables = function(x) list(shown_table(attr(x, "shown"), group = "workload"))
)
