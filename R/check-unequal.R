# An arm whose passes vary far more than those of the others: unsteady is a finding of its own.

#' @param rows Counted readings of what is judged.
#' @noRd
unequal_arms <- function(rows) {
  # in one study of two hundred without any, one would be named
  looks <- nrow(unique(rows[c("workload", "segment", "context", "metric", "arm")]))
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(rows)), cell_key(rows)), function(at) {
    uneven_arms(rows[at, , drop = FALSE], 0.005 / looks)
  }))
}

register("check", "unequal", scope = "study", run = function(study) unequal_arms(judged_readings(study)))

# what an arm's passes vary by inside its own mean, against what those of all others do (F test), each without its
# farthest pass: one odd pass is not an arm that is unsteady
uneven_arms <- function(here, level) {
  y <- analysed_values(here)
  away <- abs(y - stats::ave(y, here$arm, FUN = stats::median))
  kept <- stats::ave(-away, here$arm, FUN = rank) > 1
  here <- here[kept, , drop = FALSE]
  left <- y[kept] - stats::ave(y[kept], here$arm)
  df <- c(table(here$arm)) - 1
  squares <- c(rowsum(left^2, here$arm)[names(df), 1])
  others <- (sum(squares) - squares) / (sum(df) - df)
  times <- (squares / df) / others
  p <- stats::pf(times, df, sum(df) - df, lower.tail = FALSE)
  unsteady <- which(df >= 2 & sum(df) - df >= 2 & others > 0 & times > 4 & p < level)
  do.call(bind_findings, lapply(unsteady, function(i) {
    new_finding("warning", "unequal",
      arm_said = names(df)[i], times = sqrt(times[[i]]), metric_said = here$metric[1], workload = here$workload[1],
      segment = here$segment[1], context = here$context[1], metric = here$metric[1], arm = names(df)[i]
    )
  }))
}
