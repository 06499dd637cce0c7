# Every workload, and what holds over all of them.

overall_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  verdicts <- weighed(x, ...)
  found <- weigh_overall(verdicts)
  rows <- found$overall
  if (!NROW(rows)) {
    abort_input("nothing here is measured in two workloads or more", todo = "see --of change, workload by workload")
  }
  rows <- rows[is.null(metric) | rows$metric %in% metric, , drop = FALSE]
  rows <- rows[is.null(context) | rows$context %in% context, , drop = FALSE]
  if (!nrow(rows)) abort_input("no such metric or context in two workloads", todo = "see: honestmargin ask STUDY")
  own <- only_rows(verdicts, workload)
  own <- plain_table(own)[own$role == "primary" & own$verdict != "blocked", , drop = FALSE]
  out <- stack_rows(lapply(each_row(rows), function(row) {
    here <- own[own$metric == row$metric & own$context %in% row$context & own$arm == row$arm &
      own$baseline == row$baseline, , drop = FALSE]
    over <- function(kind, lower, upper, verdict) {
      data.frame(
        kind = kind, place = kind, change = row$change, lower = row[[lower]], upper = row[[upper]], verdict = verdict
      )
    }
    parts <- rbind(
      data.frame(
        kind = rep("workload", nrow(here)), place = place_names(here), here[c("change", "lower", "upper", "verdict")]
      ),
      over("these workloads", "lower", "upper", row$verdict),
      if (!is.na(row$like_lower)) over("workloads like these", "like_lower", "like_upper", row$like_verdict),
      if (!is.na(row$next_lower)) over("one more workload", "next_lower", "next_upper", "none")
    )
    data.frame(row[c("metric", "context", "unit", "scale", "arm", "baseline", "worth")], parts, row.names = NULL)
  }))
  out$label <- metric_labels(out$metric, labels_of(verdicts))
  structure(out, labels = labels_of(verdicts), confidence = attr(found, "confidence"))
}

register("figure", "overall",
  rank = 1.5, data = overall_data, about = "each workload and all of them together", weighs = TRUE
)
