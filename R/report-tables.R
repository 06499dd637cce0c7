# The tables of the report: verdicts, what limited the passes, outcomes, readings.

# One string, not a tree of tags: a study has thousands of cells.
html_table <- function(table, right = character()) {
  class <- ifelse(names(table) %in% right, "right", "left")
  cell <- function(tag, text, class, more = "") {
    paste0(
      "<", tag, " class=\"", class, "\"", more, ">", htmltools::htmlEscape(empty_na(as.character(text))), "</", tag, ">"
    )
  }
  head <- paste(sub("^<th", "<th scope=\"col\"", cell("th", names(table), class)), collapse = "")
  # on a phone a row of a short table is a card, and each cell says what it is; a long one would grow by a tenth
  cards <- nrow(table) <= 60
  of <- if (!cards) "" else paste0(" data-of=\"", htmltools::htmlEscape(names(table), attribute = TRUE), "\"")
  rows <- do.call(paste0, unname(Map(function(column, c, o) {
    cell("td", column, ifelse(cards & !nzchar(empty_na(as.character(column))), paste(c, "empty"), c), o)
  }, table, class, of)))
  htmltools::HTML(paste0(
    "<div class=\"scroll\"><table", if (cards) " class=\"cards\"", "><thead><tr>", head, "</tr></thead><tbody>",
    paste0("<tr>", rows, "</tr>", collapse = "\n"), "</tbody></table></div>"
  ))
}

report_verdicts <- function(verdicts, labels) {
  tags <- htmltools::tags
  table <- function(rows) {
    html_table(
      verdict_cells(rows, labels),
      c("baseline", "arm mean", "change", "range", "worth", "noise", "detectable", "more")
    )
  }
  primary <- verdicts$role == "primary"
  luck <- unasked_words(verdicts)
  tags$section(
    tags$h2("Verdicts"), table(verdicts[primary, ]),
    tags$p(
      class = "small", "noise: how much one ", c(stats::na.omit(verdicts$unit_of_replication), "pass")[1],
      " moves by itself (one standard deviation). detectable: the smallest change this study would have found ",
      "four times in five. more: ", if (go_on_counting(verdicts)) "further passes" else "passes of a fresh batch",
      " per arm that would settle it."
    ),
    if (any(!primary)) {
      tags$details(
        tags$summary(paste0(
          count_of(sum(!primary), "exploratory comparison"), " (outside the family)", "; "[!is.null(luck)], luck
        )),
        table(verdicts[!primary, ])
      )
    }
  )
}

verdict_cells <- function(rows, labels) {
  number <- function(v) show_number(v)
  table <- data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, labels),
    arm = gsub(" ", "\u00a0", arm_names(rows$arm, labels), fixed = TRUE),
    against = gsub(" ", "\u00a0", arm_names(rows$baseline, labels), fixed = TRUE),
    baseline = show_number(rows$baseline_value, 4),
    `arm mean` = paste(show_number(rows$arm_value, 4), empty_na(rows$unit)),
    change = ifelse(rows$verdict == "blocked", "", shown_change(rows)),
    range = ifelse(rows$verdict == "blocked", "", shown_interval(rows)),
    verdict = rows$verdict, worth = number(rows$worth), noise = number(rows$noise),
    detectable = number(rows$detectable),
    more = ifelse(rows$verdict == "unclear", format_count(rows$more_passes), ""), why = rows$reason,
    check.names = FALSE
  )
  if (has_pairs(rows)) table else table[names(table) != "against"]
}

report_outcomes <- function(x, labels) {
  tags <- htmltools::tags
  passes <- passes_of(what_was_weighed(x))
  outcomes <- outcome_table(x)
  left <- passes_without_value(passes)
  left[] <- lapply(left, empty_na)
  tags$section(
    tags$h2("Outcomes and exclusions"),
    html_table(outcomes_shown(outcomes, labels), "exposure"), tags$p(class = "small", outcomes_note),
    if (nrow(left)) {
      list(
        tags$p("Passes whose values do not count:"), html_table(left)
      )
    } else {
      roles <- passes_of(empty_to(attr(x, "weighed"), x))$role
      tags$p(paste0(
        "Every counted pass ended well", if (!any(roles %in% roles_left_out)) "; none was excluded", "."
      ))
    }
  )
}

report_readings <- function(x, metrics = unique(x$metric[x$role == "primary"])) {
  tags <- htmltools::tags
  readings <- plain_table(readings_of(what_was_weighed(x)))
  rows <- readings[readings$metric %in% metrics, c(
    "pass", "workload", "arm", "block", "metric", "value", "unit", "outcome", "role"
  )]
  text <- as.data.frame(lapply(
    rows, function(v) if (is.numeric(v)) show_exact(signif(v, 6)) else empty_na(v)
  ))
  text$value[is.na(rows$value)] <- ""
  tags$section(
    tags$h2("Readings"),
    tags$details(tags$summary(paste(nrow(text), "readings of what is judged")), html_table(text, "value")),
    tags$p(
      class = "small", "This file carries all of its readings as CSV, and the plan as it stands with its commands: ",
      tags$code("honestmargin weigh report.html"), " weighs them anew, with other options too."
    )
  )
}

# not shown: what `read_report()` reads back
report_carried <- function(verdicts) {
  carried <- carried_texts(verdicts)
  block <- function(type, name, lines) {
    htmltools::HTML(paste(
      c(paste0("<script type=\"", type, "\" id=\"carried-", name, "\">"), lines, "</script>"),
      collapse = "\n"
    ))
  }
  list(
    block("text/csv", "readings", escape_carried(carried$readings)),
    block("application/json", "study", gsub("<", "\\u003c", carried$rest, fixed = TRUE))
  )
}

report_batches <- function(verdicts) {
  table <- batches_side_by_side(verdicts)
  if (!is.null(table)) {
    htmltools::tags$section(htmltools::tags$h2(batches_heading), html_table(table))
  }
}
