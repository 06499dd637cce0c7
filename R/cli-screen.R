# The verb `screen`: which of many options matter, and what to turn down.

cli_screen <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  if (!is.null(options$confirm) && is.null(options$target)) {
    abort_needed("name the target", todo = "--target PERCENT: the settings that are expected to reach it are planned")
  }
  found <- answer_asked(registered("question", "screen"), files, options)
  show_answer(found, format)
  if (!is.null(options$confirm)) {
    path <- confirm_screen(found, options$confirm)
    tell_user("planned: ", path, "\n  -> look at it, then: honestmargin run ", options$confirm)
  }
  0L
}

register("verb", "screen",
  takes = "STUDY", files = c(1, 1), run = cli_screen,
  examples = c(
    "screen my-study",
    "screen my-study --target 15"
  ),
  about = "Which of many options matter, and what to turn down for a target.",
  options = function() {
    c(
      own_options()["target"],
      list(confirm = option_text(
        "FOLDER", "with --target: write the plan that compares those settings with the start"
      )),
      shared_options("primary", "worth", "confidence", "batch", "format")
    )
  }, rank = 17.15
)
