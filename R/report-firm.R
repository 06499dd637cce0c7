# How firm the verdicts are.

report_firmness <- function(verdicts) {
  tags <- htmltools::tags
  if (!judges_numbers(verdicts)) {
    return(NULL)
  }
  found <- how_firm(verdicts)
  if (nrow(found)) {
    tags$section(
      tags$h2("How firm it is"), lapply(firm_words(found), tags$p),
      tags$p(
        class = "small",
        "Weighed again with each excluded pass counted, each flagged pass or the first block left out, the ",
        "blocks not used, or another definition of the same metric."
      )
    )
  }
}
