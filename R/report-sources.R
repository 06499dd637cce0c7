# Where the noise comes from.

report_sources <- function(verdicts) {
  tags <- htmltools::tags
  x <- what_was_weighed(verdicts)
  found <- tryCatch(
    noise_sources(x, primary = asked_of_verdicts(verdicts)$primary),
    honestmargin_error_input = function(e) NULL
  )
  if (!is.null(found)) {
    tags$section(
      tags$h2("Where the noise comes from"), lapply(sources_words(found), tags$p),
      tags$p(class = "small", sources_footing(found))
    )
  }
}
