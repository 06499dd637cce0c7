# Every pass, and each arm's mean with the interval of its verdict.

passes_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  if (!inherits(x, "honestmargin_verdicts") && has_one_arm(x)) {
    return(passes_of_one(x, workload, metric, context))
  }
  verdicts <- change_data(x <- weighed(x, ...), workload, metric, context)
  passes <- shown_passes(what_was_weighed(x), verdicts)
  means <- do.call(rbind, lapply(split(verdicts, factor(cell_key(verdicts), unique(cell_key(verdicts)))), cell_means))
  out <- rbind(passes, means[names(passes)])
  out$label <- metric_labels(out$metric, labels_of(verdicts))
  structure(out, labels = labels_of(verdicts), marks = attr(verdicts, "marks"), row.names = seq_len(nrow(out)))
}

# one arm is compared with nothing: its bar shows where its mean lies
passes_of_one <- function(x, workload, metric, context) {
  described <- describe_passes(x)
  values <- described$values
  wanted <- chosen_places(values, workload, context)
  own <- setdiff(values$metric, names(known_sensor_metrics()))
  id <- empty_to(metric, empty_to(if (is_study(x)) intersect(plan_primary(x$plan), own), own))
  means <- values[wanted & values$metric %in% id, , drop = FALSE]
  if (!nrow(means)) abort_input("no value of that kind", todo = did_you_mean(id[1], unique(values$metric)))
  means[c("pass", "part", "block", "kind", "state")] <- list(
    NA_character_, NA_integer_, NA_character_, "mean", "described"
  )
  passes <- shown_passes(x, means)
  out <- rbind(passes, means[names(passes)])
  out$label <- metric_labels(out$metric, described$labels)
  structure(out, labels = described$labels, row.names = seq_len(nrow(out)))
}

# the passes that a mean or a verdict rests on, and those that do not count
shown_passes <- function(x, rows) {
  readings <- plain_table(readings_of(x))
  shown <- readings[cell_key(readings) %in% cell_key(rows) & readings$role != "warm_up", , drop = FALSE]
  if (!nrow(shown)) abort_input("no pass gave a number", todo = "how passes ended is drawn by --of outcomes")
  state <- ifelse(shown$role != "counted", "excluded", ifelse(shown$outcome == "ok", "counted", shown$outcome))
  data.frame(
    shown[c("workload", "segment", "context", "metric", "unit", "arm", "pass", "part", "block", "value")],
    kind = "pass", state = state, lower = NA_real_, upper = NA_real_
  )
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

register("figure", "passes", rank = 2, data = passes_data, about = "every pass", weighs = TRUE, of_one_arm = TRUE)
