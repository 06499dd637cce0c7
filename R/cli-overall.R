# The verb `overall`: what a study says beyond single comparisons.

cli_overall <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "json"), "table")
  x <- open_input(files[1], options)
  asked <- weigh_options(options)
  found <- weigh_overall(x,
    baseline = asked$baseline, worth = asked$worth, primary = asked$primary, confidence = asked$confidence,
    ordered = if (options$ordered) TRUE
  )
  if (format == "json") {
    writeLines(do.call(json_text, c(unclass(found), list(version = package_version_text()))))
  } else {
    print(found)
    show_read(x, format)
  }
  0L
}

register("verb", "overall",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_overall,
  examples = c(
    "overall my-study",
    "overall my-study --format json"
  ),
  about = "Which arms could be best, and what holds over all workloads and contexts.",
  options = function() {
    c(
      input_options(), shared_options("baseline", "worth", "primary", "confidence"),
      list(
        format = option_text("F", "table or json (default table)", "-f"),
        ordered = option_flag("the values of the setting have an order")
      )
    )
  }, rank = 17.2
)
