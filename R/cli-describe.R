# The verb `describe`: passes without a comparison.

cli_describe <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  # nothing is compared, so nobody need say with what
  inputs <- lapply(files, open_input, c(options, uncompared = TRUE))
  if (length(files) > 1) names(inputs) <- make.unique(basename(normalizePath(files)))
  describe_shown(if (length(files) > 1) inputs else inputs[[1]], options, format)
}

describe_shown <- function(x, options, format) {
  found <- describe_remembering(x,
    confidence = empty_to(confidence_share(options$confidence), 0.95), memory = !isTRUE(options$no_memory)
  )
  show_answer(found, format, exploratory = isTRUE(options$exploratory), long = isTRUE(options$long))
}

register("verb", "describe",
  takes = "FILE|STUDY ...", files = c(1, Inf), run = cli_describe,
  examples = c(
    "describe my-study",
    "describe my-study --format csv"
  ),
  about = "Passes without a comparison: one machine, one arm, or several side by side.",
  options = function() {
    c(input_options(), shared_options("confidence", "no-memory", "long", "format"), list(
      arm = option_text("NAME", "what was measured, where a table has no column that says so"),
      exploratory = option_flag("every number, not only those that are judged")
    ))
  },
  rank = 17.5
)
