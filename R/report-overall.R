# What the study says beyond single comparisons.

over_all <- function(verdicts) {
  if (judges_numbers(verdicts)) weigh_overall(verdicts)
}

overall_box <- function(found) {
  panels <- if (NROW(found$overall)) nrow(unique(found$overall[c("metric", "arm", "context")])) else 0
  if (panels > 0 && panels <= panel_limit) {
    rows <- max(found$overall$workloads) + 3
    high <- 1.4 + (0.5 + 0.42 * rows) * ceiling(panels / if (panels > 2) 2 else 1)
    list(list(kind = "overall", height = high, about = "change in each workload and over all of them"))
  }
}

report_overall <- function(found, figures) {
  tags <- htmltools::tags
  words <- if (!is.null(found)) overall_words(found)
  if (!length(words)) {
    return(NULL)
  }
  picture <- lapply(Filter(function(f) is.na(f$workload), figures), `[[`, "drawn")
  tags$section(
    tags$h2("Beyond single comparisons"),
    lapply(names(words), function(name) list(tags$h3(name), lapply(words[[name]], tags$p))),
    picture, tags$p(class = "small", overall_footing(found))
  )
}
