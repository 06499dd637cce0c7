# Rare events as a person reads them in a terminal.

event_lines <- function(x, labels) {
  rare <- rare_events(x)
  if (is.null(rare)) {
    return(NULL)
  }
  c(
    "", fold(event_sentences(rare, events_by_attribute(x), labels)), "",
    table_lines(events_shown(rare, labels), c("drops", "per minute"),
      whole = "passes with", group = c("workload", "context")
    ), "", fold(events_note, rest = "")
  )
}
