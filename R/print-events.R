# Rare events as a person reads them in a terminal.

event_lines <- function(x, told) {
  table <- event_table(x)
  # what nearly every pass has is weighed as a count, and the report tells it
  rare <- if (!is.null(table)) rare_rows(table)
  if (is.null(rare)) {
    return(NULL)
  }
  c(
    "", fold(event_sentences(rare, events_by_attribute(x), told)), "",
    table_lines(events_shown(rare, told), c("drops", "per minute"),
      whole = "passes with", group = c("workload", "context")
    ), "", fold(events_note, rest = "")
  )
}
