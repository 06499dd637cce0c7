# Every pass, and each arm's mean with the interval of its verdict.

passes_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  verdicts <- change_data(x <- weighed(x, ...), workload, metric, context)
  readings <- plain_table(readings_of(what_was_weighed(x)))
  shown <- readings[cell_key(readings) %in% cell_key(verdicts) & readings$role != "warm_up", , drop = FALSE]
  state <- ifelse(shown$role == "excluded", "excluded", ifelse(shown$outcome == "ok", "counted", shown$outcome))
  passes <- data.frame(
    shown[c(
      "workload", "segment", "context", "metric", "unit", "arm", "pass", "part", "block", "value"
    )],
    kind = "pass", state = state, lower = NA_real_, upper = NA_real_
  )
  means <- do.call(rbind, lapply(split(verdicts, factor(cell_key(verdicts), unique(cell_key(verdicts)))), cell_means))
  out <- rbind(passes, means[names(passes)])
  out$label <- metric_labels(out$metric, labels_of(verdicts))
  structure(out, labels = labels_of(verdicts), marks = attr(verdicts, "marks"), row.names = seq_len(nrow(out)))
}

# Each arm's interval is the one that decided its verdict, moved from the change
# to the metric's own unit; the baseline carries the worth band.
cell_means <- function(rows) {
  first <- rows[1, ]
  move <- function(base, change) if (first$scale == "percent") base * (1 + change / 100) else base + change
  arms <- data.frame(plain_table(rows)[c("workload", "segment", "context", "metric", "unit", "arm")],
    pass = NA_character_, part = NA_integer_, block = NA_character_, value = rows$arm_value,
    kind = "mean", state = rows$verdict,
    lower = move(rows$baseline_value, rows$lower), upper = move(rows$baseline_value, rows$upper)
  )
  base <- mean(rows$baseline_value, na.rm = TRUE)
  baseline <- arms[1, ]
  baseline[c("arm", "state")] <- list(first$baseline, "baseline")
  baseline[c("value", "lower", "upper")] <- list(base, move(base, -first$worth), move(base, first$worth))
  rbind(baseline, arms)
}

register("figure", "passes", rank = 2, data = passes_data, about = "every pass", weighs = TRUE)
