# Every loop of every run, in the order of the loops.

loops_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  found <- if (is_answer_to(x, "loops")) x else run_loops(x)
  each <- attr(found, "each")
  each <- each[chosen_places(each, workload, context) & (is.null(metric) | each$metric %in% metric), , drop = FALSE]
  if (!nrow(each)) abort_input("no loop of that kind", todo = did_you_mean(metric[1], unique(found$metric)))
  each$place <- ordinal_within(each[c("workload", "context", "metric", "arm", "pass")])
  each$label <- metric_labels(each$metric, labels_of(found))
  each$segment <- NA_character_
  structure(each, labels = labels_of(found), said = loops_words(found), runs = plain_table(found))
}

register("figure", "loops",
  rank = 10, data = loops_data, about = "every loop of every run", takes = character()
)
