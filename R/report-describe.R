# The report of one arm alone: what it gave, and how much its passes differ.

description_page <- function(description, x) {
  tags <- htmltools::tags
  labels <- labels_of(description)
  values <- shown_values(description)
  title <- if (nzchar(labels$question)) labels$question else "What was measured"
  study <- is_study(x)
  page_of(
    title,
    tags$header(
      tags$h1(title),
      lapply(
        c(
          if (!is.null(values)) description_sentences(values, labels),
          ending_sentences(description$outcomes, values, labels)
        ),
        function(said) tags$div(class = "answer", tags$p(said))
      ),
      tags$p(class = "small", paste0(
        "One arm: it is described, nothing is compared. Each mean lies where it says at ",
        show_share(attr(description, "confidence")), " on its own, if passes like ",
        "these are run again on the same machine."
      ))
    ),
    report_findings(findings(description)),
    described_figures(x, description),
    if (!is.null(values)) {
      tags$section(
        tags$h2("Values"), html_table(values_shown(values, labels), c("worst", "best", "n")),
        described_rest(description, values, labels)
      )
    },
    described_sensors(description, labels),
    if (!is.null(description$limiting)) report_answer(new_answer("limiting", description$limiting, x)),
    report_outcomes(x, labels),
    report_answer(asked_by_report(x, "events")),
    report_readings(x, unique(values$metric)),
    if (study) report_seal(x, NULL, labels),
    if (study) report_conditions(x)
  )
}

described_rest <- function(description, values, labels) {
  tags <- htmltools::tags
  rest <- description$values[!description$values$metric %in% values$metric, , drop = FALSE]
  if (nrow(rest)) {
    tags$details(
      tags$summary(count_of(nrow(rest), "further number")),
      html_table(values_shown(rest, labels), c("worst", "best", "n"))
    )
  }
}

described_sensors <- function(description, labels) {
  tags <- htmltools::tags
  table <- if (!is.null(description$values)) sensors_shown(description$values, labels)
  if (!is.null(table)) tags$section(tags$h2("Sensors"), html_table(table, c("mean", "highest")))
}

# how each pass ended, and what it was like over time
described_figures <- function(x, description) {
  tags <- htmltools::tags
  values <- description$values
  valued <- values$workload[!values$metric %in% names(known_sensor_metrics())]
  each <- lapply(utils::head(unique(passes_of(x)$workload), 12), function(workload) {
    kinds <- c(if (workload %in% valued) "passes", "outcomes", if (is_study(x)) {
      c(
        if (workload %in% places_with(x, "frames")$workload) "trace",
        if (workload %in% places_with(x, "sensors")$workload) "sensors"
      )
    })
    drawn <- lapply(kinds, function(kind) {
      high <- c(passes = 2.6, outcomes = 2.2, trace = 3.4, sensors = 6.4)[[kind]]
      tryCatch(figure_box(registered("picture", kind)$draw(x, workload), 9.2, high, paste(kind, "in", workload)),
        honestmargin_error = function(e) tags$p(class = "small", paste0("Not drawn: ", conditionMessage(e)))
      )
    })
    list(tags$h3(workload), drawn)
  })
  tags$section(tags$h2("Figures"), each)
}
