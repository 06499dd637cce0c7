# A search as a person reads it in a terminal.

#' @export
print.honestmargin_search <- function(x, ...) {
  writeLines(search_lines(x))
  invisible(x)
}

search_lines <- function(x) {
  labels <- plan_labels(x$plan)
  table <- search_table(x)
  c(
    if (nzchar(labels$question)) c(fold(labels$question, rest = ""), ""),
    unlist(lapply(search_sentences(x), fold)), "",
    if (NROW(table)) {
      table_lines(ladder_shown(table, labels), c(paste(unique(table$workload), "held"), "exposure"), whole = "value")
    }
  )
}

# what a search will do, before it begins
climb_lines <- function(x) {
  c(
    fold(plan_title(x$plan), rest = ""), "", fold(climb_words(x$plan), rest = ""), "",
    fold(climb_length(x$plan, x$schedule, x$seconds), rest = ""), fold(soak_words(x$plan), rest = ""),
    if (!is.null(x$power)) {
      c("", fold("What the comparison at the end can show"), power_lines(x$power), "",
        fold(power_words(x$power), rest = "")
      )
    },
    finding_lines(findings(x)), command_lines(x$commands)
  )
}
