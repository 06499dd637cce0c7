# The ladder of a search in the order in which it was walked.

search_data <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  search <- if (inherits(x, "honestmargin_search")) x else what_was_weighed(x)$search
  if (is.null(search)) abort_input("this study looks for no value", todo = "see --of change")
  labels <- plan_labels(search$plan)
  steps <- search$steps[!is.na(search$steps$held) & search$steps$role %in% search_roles, , drop = FALSE]
  if (!nrow(steps)) abort_input("no value was tried yet", search$folder, "run it: honestmargin run")
  arms <- plan_arms(search$plan)
  clock <- clock_unit(sum(steps$seconds))
  end <- cumsum(steps$seconds) / clock$seconds
  timed <- all(steps$seconds > 0)
  how <- how_it_failed(steps)
  out <- data.frame(
    pass = steps$pass, arm = steps$arm, workload = steps$workload, role = steps$role, held = steps$held,
    how = ifelse(steps$held, "", how), rung = match(steps$arm, arms),
    from = if (timed) end - steps$seconds / clock$seconds else seq_len(nrow(steps)) - 1,
    to = if (timed) end else seq_len(nrow(steps)), unit = if (timed) clock$unit else "passes",
    found = identical(search$now$why, "found") & steps$arm %in% search$now$arm
  )
  words <- value_words(search_table(search))
  structure(out, labels = labels, arms = arms, words = words, said = search_sentences(search))
}

# behind each value: what the heaviest test that it went through still allows
value_words <- function(table) {
  last <- table[!duplicated(table$arm, fromLast = TRUE), , drop = FALSE]
  fell <- vapply(last$arm, function(arm) sum(table$failed[table$arm == arm]), 1)
  all <- vapply(last$arm, function(arm) sum(table$passes[table$arm == arm]), 1)
  words <- ifelse(
    fell > 0, paste0("failed ", fell, " of ", all),
    paste0("held ", all, " of ", all, ifelse(
      fell > 0, "", paste0("; ", brief_possible(last), " could fail")
    ))
  )
  data.frame(arm = last$arm, words = words, held = fell == 0)
}

register("figure", "search", rank = 6, data = search_data, about = "the ladder of a search, as it was walked")
