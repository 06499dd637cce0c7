# The question, as a form: baseline, worth, direction, what is judged.

#' What is asked of the study: baseline, worth, direction, primary metrics
#' @noRd
question_form <- function(read, said, action) {
  tags <- htmltools::tags
  study <- is_study(read)
  rows <- plain_table(readings_of(read))
  plan <- if (study) read$plan
  arms <- if (study) plan_arms(plan) else unique(rows$arm)
  if (length(arms) < 2) {
    return(tags$section(tags$h2("The question"), tags$p("One arm only: there is nothing to compare it with.")))
  }
  metrics <- rows[!duplicated(rows$metric) & rows$better != "none", , drop = FALSE]
  if (study) metrics <- metrics[metrics$metric %in% plan_primary(plan), , drop = FALSE]
  baseline <- empty_to(said$baseline, empty_to(plan$setting$baseline, arms[1]))
  tags$form(
    class = "card", method = "get", action = action,
    tags$p(class = "large", "What is the question?"),
    # what settled the reading stays with it
    hidden_fields(said, c("baseline", "worth", "better", "primary", "ask")),
    tags$label(
      "Compare the others with ",
      tags$select(name = "baseline", lapply(arms, function(arm) {
        tags$option(value = arm, selected = if (arm == baseline) NA, arm)
      }))
    ),
    tags$div(class = "scroll", tags$table(
      class = "asked", tags$thead(tags$tr(tags$th("metric"), tags$th("better"), tags$th("worth"), tags$th("judged"))),
      tags$tbody(lapply(seq_len(nrow(metrics)), function(i) metric_fields(metrics[i, ], said, plan, study)))
    )),
    tags$details(
      tags$summary("What these words mean"),
      tags$p("The baseline is the arm that the others are compared with: how it was before."),
      tags$p("The worth is the smallest change that is worth having. With it the answer can be that there is no ",
        "difference worth having; without it only whether there is one."),
      tags$p("Judged metrics decide, and their intervals hold together: each one more makes all of them wider.")
    ),
    tags$button(type = "submit", "Answer")
  )
}

metric_fields <- function(row, said, plan, study) {
  tags <- htmltools::tags
  metric <- row$metric
  worth <- empty_to(said$worth[metric], empty_to(unname(plan_worth_of(plan, metric)), ""))
  direction <- function(word) tags$option(value = word, selected = if (row$better == word) NA, word)
  unit <- if (row$scale == "percent") "%" else row$unit
  judged <- !length(said$primary) || metric %in% said$primary
  tags$tr(
    tags$th(scope = "row", metric),
    tags$td(if (study) {
      row$better
    } else {
      tags$select(name = paste0("better.", metric), `aria-label` = paste("which", metric, "is better"),
        direction("higher"), direction("lower"))
    }),
    tags$td(
      tags$input(type = "text", inputmode = "decimal", size = 6, name = paste0("worth.", metric), value = unname(worth),
        `aria-label` = paste("worth of", metric)), " ", unit
    ),
    tags$td(tags$input(type = "checkbox", name = "primary", value = metric, checked = if (judged) NA,
      `aria-label` = paste("judge", metric)))
  )
}

plan_worth_of <- function(plan, metric) {
  worth <- if (!is.null(plan)) plan_worth(plan)
  if (metric %in% names(worth)) show_exact(worth[[metric]])
}
