# Passes that begin warmer in one arm than in another are not alike.

register("check", "heat", scope = "study", run = function(study) {
  do.call(bind_findings, lapply(c("processor", "graphics"), function(who) {
    rows <- study$readings[study$readings$metric == paste0(who, "_temperature_min"), , drop = FALSE]
    rows <- plain_table(rows[is_counted(rows) & is.na(rows$segment) & is.na(rows$part), , drop = FALSE])
    do.call(bind_findings, lapply(split_in_order(seq_len(nrow(rows)), rows$workload, rows$context), function(at) {
      heat_apart(rows[at, , drop = FALSE], who)
    }))
  }))
})

heat_apart <- function(rows, who) {
  each <- split(rows$value, factor(rows$arm, arm_order(rows$arm)))
  each <- each[lengths(each) >= 3]
  if (length(each) < 2) {
    return(NULL)
  }
  middle <- vapply(each, stats::median, 1)
  # degrees come in whole numbers, so passes of an arm may well be all alike
  p <- suppressWarnings(stats::kruskal.test(each)$p.value)
  apart <- diff(range(middle))
  if (apart >= 3 && (isTRUE(p < 0.01) || apart > 4 * max(vapply(each, function(v) diff(range(v)), 1)))) {
    new_finding("warning", "heat_apart",
      who = who, warm = names(middle)[which.max(middle)], warm_at = max(middle),
      cool = names(middle)[which.min(middle)], cool_at = min(middle), workload = rows$workload[1],
      context = rows$context[1]
    )
  }
}
