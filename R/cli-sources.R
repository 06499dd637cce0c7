# The verb `sources`: where the noise of a study comes from.

cli_sources <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  x <- open_input(files[1], options)
  found <- noise_sources(x, primary = split_list(options$primary))
  show_found(found, "sources", format, x)
}

register("verb", "sources",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_sources,
  examples = c(
    "sources my-study",
    "sources my-study --format csv"
  ),
  about = "Where the noise comes from, and what each remedy would save.",
  options = function() c(input_options(), shared_options("primary", "format")), rank = 17.9
)
