# The verb `screen`: which of many options matter, and what to turn down.

cli_screen <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  target <- if (!is.null(options$target)) named_numbers(sub(" *%$", "", options$target), "target")
  if (!is.null(options$confirm) && is.null(target)) {
    abort_needed("confirm what?", todo = "give --target PERCENT: the settings that are foreseen to win it are planned")
  }
  found <- weigh_screen(open_input(files[1], options),
    primary = split_list(options$primary), worth = named_numbers(options$worth, "worth"),
    confidence = confidence_share(options$confidence), target = target
  )
  show_found(found, "options", format)
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
      list(
        target = option_text("P", "what is to be won, in percent: names the fewest options foreseen to do it"),
        confirm = option_text("FOLDER", "with --target: write the plan that compares those settings with the start")
      ),
      shared_options("primary", "worth", "confidence", "batch", "format")
    )
  }, rank = 17.15
)
