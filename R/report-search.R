# The value that a search found, in the report.

report_search <- function(search) {
  if (is.null(search)) {
    return(NULL)
  }
  tags <- htmltools::tags
  table <- search_table(search)
  tags$section(
    tags$h2("The search"),
    if (NROW(table)) {
      shown <- length(unique(table$arm))
      figure_box(plot_search(search), 9.2, min(9, 1.8 + 0.38 * shown), "each value as it was tried")
    },
    if (NROW(table)) html_table(ladder_shown(table, plan_labels(search$plan)), "exposure"),
    tags$p(class = "small", paste0(
      climb_words(search$plan), " What may still fail: at 95 %, one-sided, if failures come at random."
    ))
  )
}

# what the whole page is about, where there is a search: the value that holds
search_answers <- function(search) {
  if (!is.null(search)) {
    tags <- htmltools::tags
    said <- search_sentences(search)
    list(tags$div(class = "answer", tags$p(tags$b(said[1])), lapply(said[-1], tags$p)))
  }
}

# a search that has compared nothing yet
search_page <- function(search) {
  title <- plan_title(search$plan)
  page_of(title, htmltools::tags$header(htmltools::tags$h1(title), search_answers(search)), report_search(search))
}
