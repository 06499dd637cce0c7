# The report as Markdown, for a forum or an issue: the answer, the grid, what to keep in mind.

#' @param verdicts From [weigh()]. @return Lines.
#' @noRd
markdown_lines <- function(verdicts) {
  labels <- labels_of(verdicts)
  x <- what_was_weighed(verdicts)
  line <- headline(verdicts)
  found <- findings(verdicts)
  limiting <- if (is_study(x)) limiting_sentences(limiting_by_arm(x), labels)
  c(
    if (nzchar(labels$question)) c(paste("##", markdown_text(labels$question)), ""),
    if (!is.null(line)) c(paste0("**", markdown_text(line), "**"), ""),
    markdown_grid(verdicts, labels), "",
    paste0("- ", markdown_text(sentences(verdicts))),
    if (length(limiting)) paste0("- ", names(limiting), ": ", markdown_text(limiting)),
    "",
    markdown_text(answers_rest_on(verdicts)),
    if (nrow(found)) {
      c("", "Keep in mind:", "", markdown_text(paste0(
        "- ", found$severity, ": ", ifelse(is.na(found$workload), "", paste0(found$workload, ": ")), found$message
      )))
    },
    "", paste0("*Honest Margin ", package_version_text(), "*")
  )
}

markdown_grid <- function(verdicts, labels) {
  grid <- answer_grid(verdicts, labels)
  if (is.null(grid)) {
    return(NULL)
  }
  cell <- function(cell) {
    if (is.null(cell)) {
      return("")
    }
    hidden <- cell$verdict == "blocked"
    change <- if (!hidden) shown_change(cell)
    interval <- if (!hidden && is.finite(cell$lower)) paste0("(", shown_interval(cell), ")")
    labels <- !cell$verdict %in% c("unclear", "blocked", "no basis")
    paste(c(change, interval, if (labels) paste0("**", cell$verdict, "**") else cell$verdict), collapse = " ")
  }
  row <- function(cells) paste0("| ", paste(markdown_cell(cells), collapse = " | "), " |")
  c(
    row(c("", arm_names(grid$arms, labels))), row(rep("---", 1 + length(grid$arms))),
    vapply(grid$rows, function(r) {
      row(c(paste0(r$title, " (", r$about, ")"), vapply(r$cells, cell, "")))
    }, "")
  )
}

# what came from outside must not become a mark of its own
markdown_text <- function(text) gsub("([\\\\`_<>|#\\[\\]])", "\\\\\\1", text, perl = TRUE)
markdown_cell <- function(text) gsub("([|<>`_])", "\\\\\\1", gsub("\n", " ", text))
