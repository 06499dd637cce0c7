# A total can hide parts that moved in opposite directions.

register("check", "parts", scope = "verdicts", run = function(verdicts, plan) {
  totals <- Filter(function(m) length(m$parts) > 1, plan$metrics)
  found <- lapply(totals, function(total) {
    rows <- verdicts[verdicts$metric %in% total$parts, , drop = FALSE]
    do.call(bind_findings, lapply(split_in_order(
      seq_len(nrow(rows)), rows$workload, rows$segment, rows$context, rows$arm
    ), function(at) {
      g <- take_rows(rows, at)
      up <- g$differs %in% "yes" & !g$verdict %in% "blocked"
      better <- g$metric[up & (g$change > 0) == (g$better == "higher")]
      worse <- setdiff(g$metric[up], better)
      if (length(better) && length(worse)) {
        new_finding("warning", "parts",
          total = total$id, better = better, worse = worse, workload = g$workload[1], segment = g$segment[1],
          context = g$context[1], metric = total$id, arm = g$arm[1]
        )
      }
    }))
  })
  do.call(bind_findings, found)
})
