# What each of many options does, in the report.

# a screening in which every pass changed several options: nothing is compared arm by arm
screen_page <- function(x) {
  tags <- htmltools::tags
  found <- weigh_screen(x)
  labels <- labels_of(found)
  title <- if (nzchar(labels$question)) labels$question else "Which options matter?"
  said <- screen_words(found)
  page_of(
    title,
    tags$header(tags$h1(title), lapply(said, function(s) tags$div(class = "answer", tags$p(s)))),
    report_findings(findings(found)),
    report_screen(found), report_outcomes(x, labels), report_readings(x, unique(found$metric)),
    report_seal(x, NULL, labels), report_conditions(x)
  )
}

report_screen <- function(found) {
  drawn <- figure_box(plot_screen(found), 9.2, screen_height(found), "options ranked by what changing them does")
  # its sentences head its own page; of an arm for each option the grid of answers does
  report_answer(found, drawn, said = list())
}

# two panels stand side by side
screen_height <- function(found) {
  panels <- length(unique(paste(place_names(found), found$metric)))
  1.6 + 0.6 * length(unique(found$option)) * ceiling(panels / if (panels > 1) 2 else 1)
}
