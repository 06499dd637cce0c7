# One page for the bench, where a firmware menu leaves no screen to read.
card_lines <- function(planned) {
  plan <- planned$plan
  schedule <- planned$schedule
  visits <- split(schedule, factor(schedule$start, unique(schedule$start)))
  toggled <- toggled_workloads(plan)
  steps <- lapply(seq_along(visits), function(i) {
    v <- visits[[i]]
    runs <- rle(paste0(v$workload, ifelse(v$role == "warm_up", " (warm-up)", "")))
    c(
      fold(
        paste0(
          "[ ] ", i, ". ", step_words(step_code(plan, v[nrow(v), ])$values),
          if (plan$setting$restart == "machine") "; restart"
        ),
        rest = "      "
      ),
      paste0(
        "      [ ] ", runs$values, ifelse(runs$lengths > 1, paste0(" x", runs$lengths), ""), "   ", strrep("_", 14)
      )
    )
  })
  c(
    fold(plan_title(plan), rest = ""), strrep("=", 60), unlist(steps, use.names = FALSE),
    if (length(toggled)) c("", fold(flip_words(plan, toggled)))
  )
}
