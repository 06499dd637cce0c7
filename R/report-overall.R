# What the study says beyond single comparisons.

report_overall <- function(verdicts) {
  tags <- htmltools::tags
  if (!any(verdicts$role == "primary" & !verdicts$metric %in% names(known_outcome_metrics()))) {
    return(NULL)
  }
  found <- weigh_overall(verdicts)
  words <- overall_words(found)
  if (!length(words)) {
    return(NULL)
  }
  panels <- if (NROW(found$overall)) nrow(unique(found$overall[c("metric", "arm", "context")])) else 0
  picture <- if (panels > 0 && panels <= panel_limit) {
    rows <- max(found$overall$workloads) + 3
    high <- 1.4 + (0.5 + 0.42 * rows) * ceiling(panels / if (panels > 2) 2 else 1)
    figure_box(plot_overall(verdicts), 9.2, high, "change in each workload and over all of them")
  }
  tags$section(
    tags$h2("Beyond single comparisons"),
    lapply(names(words), function(name) list(tags$h3(name), lapply(words[[name]], tags$p))),
    picture, tags$p(class = "small", overall_footing(found))
  )
}
