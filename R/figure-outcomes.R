# Every pass by how it ended and how long it ran, and what that leaves possible for its arm.

outcomes_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  # nothing is compared here, so nothing is weighed
  x <- what_was_weighed(x)
  labels <- plan_labels(if (is_study(x)) x$plan)
  passes <- passes_of(x)
  table <- outcome_table(x)
  wanted <- chosen_places(passes, workload, context)
  passes <- passes[wanted & tried(passes), , drop = FALSE]
  if (!nrow(passes)) abort_input("no counted pass there shows whether an arm holds", todo = "see the outcomes")
  arms <- arm_order(table$arm, if (is_study(x)) plan_arms(x$plan))
  passes <- passes[order(match(passes$arm, arms), passes$order), , drop = FALSE]
  place <- place_names(passes[c("workload", "context")])
  timed <- vapply(split(is.finite(passes$seconds) & passes$seconds > 0, place), all, NA)[place]
  clock <- clock_unit(sum(passes$seconds[timed]) / length(unique(paste(place, passes$arm))))
  took <- ifelse(timed, passes$seconds / clock$seconds, 1)
  row <- paste(place, passes$arm, sep = "\r")
  end <- stats::ave(took, row, FUN = cumsum)
  out <- data.frame(
    plain_table(passes)[c("workload", "context", "arm", "pass")],
    outcome = passes$outcome, held = !fell(passes), from = end - took, to = end,
    unit = ifelse(timed, clock$unit, "passes")
  )
  shown <- outcomes_shown(table, labels)
  at <- match(row, paste(outcome_places(table), table$arm, sep = "\r"))
  out$words <- paste0("failed ", shown$failed[at], "; failure rate ", shown[["failure rate"]][at])
  rownames(out) <- NULL
  structure(out, labels = labels, arms = arms)
}

# seconds, minutes or hours, by how long an arm was tried
clock_unit <- function(seconds) {
  if (seconds < 150) {
    list(unit = "s", seconds = 1)
  } else if (seconds < 2e4) {
    list(unit = "min", seconds = 60)
  } else {
    list(unit = "h", seconds = 3600)
  }
}

chosen_places <- function(passes, workload, context) {
  for (given in list(list(workload, passes$workload, "workload"), list(context, passes$context, "context"))) {
    unknown <- setdiff(given[[1]], given[[2]])
    if (length(unknown)) {
      abort_input(
        paste0("no ", given[[3]], " '", unknown[1], "'"),
        todo = did_you_mean(unknown[1], unique(given[[2]]))
      )
    }
  }
  (is.null(workload) | passes$workload %in% workload) & (is.null(context) | passes$context %in% context)
}

register("figure", "outcomes", rank = 5, data = outcomes_data, about = "how each pass ended")
