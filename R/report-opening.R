# How the report begins: the answer, and what to keep in mind.

report_opening <- function(title, verdicts, labels, limiting = character(), firm = NULL) {
  tags <- htmltools::tags
  x <- what_was_weighed(verdicts)
  said <- sentences(verdicts)
  words <- after_words(attr(verdicts, "otherwise"))
  parts <- sentence_parts(verdicts)
  answers <- lapply(seq_along(said), function(i) {
    name <- names(said)[i]
    words <- unique(parts[[i]]$verdict)
    words <- words[order(match(
      words, c(
        "does not hold", "clear loss", "loss", "clear gain", "gain", "blocked", "no basis", "unclear", "negligible"
      )
    ))]
    tags$div(
      class = "answer",
      tags$div(class = "words", lapply(words, function(w) tags$span(class = paste("word", verdict_family(w)), w))),
      tags$p(said[[i]]),
      if (name %in% names(limiting) && !duplicated(names(said))[i]) {
        tags$p(class = "small", paste0("These passes: ", limiting[[name]]))
      }
    )
  })
  grid <- report_grid(verdicts, labels, firm)
  line <- headline(verdicts)
  tags$header(
    tags$h1(title), if (is_study(x)) search_answers(x$search),
    if (!is.null(line)) tags$p(class = "headline", line),
    grid,
    # where there is no grid the sentences are the answer
    if (is.null(grid)) answers else tags$details(class = "said", tags$summary("In sentences, ready to paste"), answers),
    if (!is.null(words)) {
      tags$p(class = "small", paste0(
        after_heading, " (", paste(words$changes, collapse = "; "), "): see \u201cFixed before, changed after\u201d."
      ))
    },
    tags$p(class = "small", answers_rest_on(verdicts)),
    # how many passes there are of a study stands in the line above
    if (has_account(x)) lapply(read_lines(x), function(line) tags$p(class = "small", line))
  )
}

# what the checks saw, and every pass as it ran with what was seen in it
report_findings <- function(found, checked = NULL) {
  tags <- htmltools::tags
  strips <- if (!is.null(checked)) strips_html(checked)
  if (!nrow(found) && is.null(strips)) {
    return(NULL)
  }
  items <- lapply(seq_len(nrow(found)), function(i) {
    f <- found[i, ]
    tags$li(
      tags$b(paste0(f$severity, ": ")), if (!is.na(f$workload)) paste0(f$workload, ": "), f$message,
      if (nzchar(f$todo)) tags$em(paste0(" \u2192 ", f$todo, "."))
    )
  })
  tags$section(
    tags$h2("Can these passes be believed?"),
    if (length(items)) tags$ul(items) else tags$p("The checks saw nothing that matters."), strips
  )
}

strips_html <- function(checked) {
  tags <- htmltools::tags
  rows <- pass_strips(checked$passes, labels_of(checked))
  # thousands of passes are read as a table, not as marks
  if (sum(lengths(lapply(rows, `[[`, "pass"))) > 600) {
    return(NULL)
  }
  body <- vapply(rows, function(row) {
    marks <- paste0(
      "<span class=\"", strip_class[row$marks], "\" title=\"",
      htmltools::htmlEscape(paste0(row$pass, ifelse(nzchar(row$said), paste0(": ", row$said), "")), attribute = TRUE),
      "\">", row$marks, "</span>",
      collapse = ""
    )
    paste0("<tr><th scope=\"row\">", htmltools::htmlEscape(row$name), "</th><td>", marks, "</td></tr>")
  }, "")
  list(
    htmltools::HTML(paste0("<table class=\"strips\">", paste(body, collapse = "\n"), "</table>")),
    tags$p(class = "small", paste0(
      gsub("  ", "; ", strip_legend), ". Every pass in the order in which it ran; point at one to see more."
    ))
  )
}

strip_class <- c(`.` = "well", `-` = "noted", `!` = "warned", x = "fell", o = "out", w = "warm")
