# One page for the bench, where a firmware menu leaves no screen to read.
card_lines <- function(planned) {
  plan <- planned$plan
  schedule <- planned$schedule
  visits <- split(schedule, factor(schedule$start, unique(schedule$start)))
  toggled <- toggled_workloads(plan)
  steps <- lapply(seq_along(visits), function(i) {
    v <- visits[[i]]
    runs <- rle(paste0(v$workload, ifelse(v$role == "warm_up", " (warm-up)", "")))
    due <- lapply(sub(" \\(warm-up\\)$", "", runs$values), function(id) card_blanks(plan, workload_of(plan, id)))
    c(
      fold(
        paste0(
          "[ ] ", i, ". ", step_words(step_code(plan, v[nrow(v), ])$values),
          if (plan$setting$restart == "machine") "; restart"
        ),
        rest = "      "
      ),
      unlist(lapply(seq_along(due), function(j) {
        fold(paste0(rep(paste0("[ ] ", runs$values[j], "   ", due[[j]]), runs$lengths[j])),
          first = "      ", rest = "          "
        )
      }))
    )
  })
  c(
    fold(plan_title(plan), rest = ""), strrep("=", 60), unlist(steps, use.names = FALSE),
    if (length(toggled)) c("", fold(flip_words(plan, toggled)))
  )
}

# a blank with its name for each number that is due
card_blanks <- function(plan, workload) {
  places <- score_places(plan, workload)
  blanks <- if (nrow(places) == 1 && is.na(places$segment)) "" else typed_name(places$segment, places$metric)
  paste(paste0(blanks, ifelse(nzchar(blanks), " ", ""), strrep("_", 12)), collapse = "  ")
}
