# What was asked for after the seal, in words.

#' @param otherwise From `after_the_fact()`, or `NULL`.
#' @return `NULL`, or a list: `changes` (a text each), `sentences`.
#' @noRd
after_words <- function(otherwise) {
  if (is.null(otherwise)) {
    return(NULL)
  }
  by <- c(plan = "the plan was edited", option = "asked for now")
  list(
    changes = paste0(
      otherwise$changes$key, ": ", said_or_none(otherwise$changes$from), " -> ", said_or_none(otherwise$changes$to),
      " (", by[otherwise$changes$by], ")"
    ),
    sentences = sentences(otherwise$verdicts)
  )
}

after_heading <- "After the fact, not as it was sealed"
