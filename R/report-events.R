# Rare events in the report.

report_events <- function(x, told) {
  tags <- htmltools::tags
  table <- event_table(x)
  said <- event_sentences(table, events_by_attribute(x), told)
  if (length(said)) {
    tags$section(
      tags$h2(events_heading), lapply(said, tags$p), html_table(events_shown(table, told), c("drops", "per minute")),
      tags$p(class = "small", events_note)
    )
  }
}
