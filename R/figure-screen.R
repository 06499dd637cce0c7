# Options ranked by what changing them does.

screen_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  found <- if (is_answer_to(x, "screen")) x else weigh_screen(what_was_weighed(x), primary = metric, ...)
  rows <- plain_table(found)
  rows <- rows[chosen_places(rows, workload, context), , drop = FALSE]
  rows$label <- metric_labels(rows$metric, labels_of(found))
  structure(rows, labels = labels_of(found), said = screen_title(rows), confidence = attr(found, "confidence"))
}

register("figure", "screen",
  rank = 8, data = screen_data, about = "options ranked by what changing them does", takes = c("worth", "confidence")
)
