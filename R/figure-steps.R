# Steps that were kept, one after another: the level of each arm, and what the step to it brought.

steps_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  found <- if (is_answer_to(x, "steps")) x else weigh_steps(x, ...)
  rows <- attr(found, "rows")
  rows <- rows[chosen_places(rows, workload, context), , drop = FALSE]
  if (!is.null(metric)) rows <- rows[rows$metric %in% metric, , drop = FALSE]
  if (!nrow(rows)) {
    abort_input("no step of that kind", todo = did_you_mean(metric[1], unique(attr(found, "rows")$metric)))
  }
  labels <- labels_of(found)
  passes <- plain_table(readings_of(attr(found, "weighed")))
  passes <- passes[is_counted(passes) & cell_key(passes) %in% cell_key(rows), , drop = FALSE]
  if (!nrow(passes)) abort_input("no pass gave a number", todo = "how passes ended is drawn by --of outcomes")
  each <- rows[!is.na(rows$step), , drop = FALSE]
  key <- cell_key(each)
  first <- each[!duplicated(key), , drop = FALSE]
  place <- c("workload", "segment", "context", "metric", "unit")
  out <- rbind(
    data.frame(first[place], arm = first$baseline, step = 0L, words = "", verdict = "baseline"),
    data.frame(each[place], arm = each$arm, step = each$step, words = rise_words(each), verdict = each$verdict)
  )
  at <- function(rows) paste(cell_key(rows), rows$arm)
  level <- tapply(passes$value, at(passes), mean)
  out$value <- as.numeric(level[at(out)])
  out$kind <- "level"
  points <- data.frame(
    passes[c(place, "arm")], step = out$step[match(at(passes), at(out))],
    words = "", verdict = "", value = passes$value, kind = "pass"
  )
  out <- rbind(out, points[!is.na(points$step), ])
  out$label <- metric_labels(out$metric, labels)
  structure(out, labels = labels, said = climb_ends(rows, labels), row.names = seq_len(nrow(out)))
}

rise_words <- function(rows) {
  change <- ifelse(rows$verdict == "blocked", "", shown_change(rows))
  paste0(change, ifelse(nzchar(change), "\n", ""), rows$verdict)
}

register("figure", "steps", rank = 9, data = steps_data, about = "what each step brought after the one before it",
  weighs = TRUE, stepwise = TRUE
)
