# The verb `firm`: what each verdict would be under every other reasonable choice.

cli_firm <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  x <- open_input(files[1], options)
  found <- how_firm(do.call(weigh, c(list(x), weigh_options(options))))
  show_found(found, "firmness", format, x)
}

register("verb", "firm",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_firm,
  examples = c(
    "firm my-study",
    "firm my-study --worth fps_avg=3"
  ),
  about = "What each verdict would be under every other reasonable choice.",
  options = function() c(weighing_options(), shared_options("format")), rank = 17.3
)
