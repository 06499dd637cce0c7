# An arm whose passes vary far more than those of the others: unsteady is a finding of its own.

register("check", "unequal", scope = "study", run = function(study) {
  rows <- judged_readings(study)
  # in one study of two hundred without any, one would be named
  looks <- nrow(unique(rows[c("workload", "segment", "context", "metric", "arm")]))
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(rows)), cell_key(rows)), function(at) {
    uneven_arms(rows[at, , drop = FALSE], 0.005 / looks)
  }))
})

# what an arm's passes vary by inside its own mean, against what those of all others do (F test), each without its
# farthest pass: one odd pass is not an arm that is unsteady
uneven_arms <- function(here, level) {
  y <- analysed_values(here)
  away <- abs(y - stats::ave(y, here$arm, FUN = stats::median))
  kept <- stats::ave(-away, here$arm, FUN = rank) > 1
  here <- here[kept, , drop = FALSE]
  left <- y[kept] - stats::ave(y[kept], here$arm)
  n <- table(here$arm)
  squares <- tapply(left^2, here$arm, sum)
  do.call(bind_findings, lapply(names(n)[n >= 3], function(arm) {
    others <- setdiff(names(n), arm)
    df <- c(n[[arm]] - 1, sum(n[others] - 1))
    variance <- c(squares[[arm]] / df[1], sum(squares[others]) / df[2])
    if (df[2] < 2 || variance[2] <= 0) {
      return(NULL)
    }
    times <- variance[1] / variance[2]
    if (times > 4 && stats::pf(times, df[1], df[2], lower.tail = FALSE) < level) {
      new_finding("warning", "unequal",
        arm_said = arm, times = sqrt(times), metric_said = here$metric[1], workload = here$workload[1],
        segment = here$segment[1], context = here$context[1], metric = here$metric[1], arm = arm
      )
    }
  }))
}
