# An answer as a section of the report.

#' @param picture What is drawn of it, or nothing. @param said Its sentences; none where they stand elsewhere.
#' @noRd
report_answer <- function(x, picture = NULL, said = answer_lines(x)) {
  tags <- htmltools::tags
  if (is.null(x)) {
    return(NULL)
  }
  footing <- answer_footing(x)
  tags$section(
    tags$h2(question_of(x)$title),
    if (is.null(names(said))) {
      lapply(unlist(said), tags$p)
    } else {
      lapply(names(said), function(name) list(tags$h3(name), lapply(said[[name]], tags$p)))
    },
    picture,
    lapply(answer_tables(x), function(one) {
      list(if (length(one$caption)) tags$p(one$caption), html_table(one$table, one$right))
    }),
    if (length(footing)) tags$p(class = "small", footing)
  )
}

# what a report tells of a question by itself
asked_by_report <- function(verdicts, question) registered("question", question)$report(verdicts)
