# The verb `together`: several claims of which all must hold.

cli_together <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  if (is.null(options$claims)) {
    abort_needed("which claims?", todo = "give --claims fps_avg=as_good,graphics_temperature_mean=better")
  }
  parts <- strsplit(split_list(options$claims), "=", fixed = TRUE)
  if (any(lengths(parts) != 2)) {
    abort_usage(
      paste0("--claims ", options$claims, ": expected METRIC=CLAIM"),
      todo = "as_good or better, after each metric"
    )
  }
  claims <- stats::setNames(vapply(parts, `[`, "", 2), vapply(parts, `[`, "", 1))
  x <- open_input(files[1], options)
  found <- weigh_together(x, claims,
    baseline = options$baseline, worth = named_numbers(options$worth, "worth"),
    confidence = confidence_share(options$confidence)
  )
  show_found(found, "together", format, x)
}

register("verb", "together",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_together,
  examples = c(
    "together my-study --claims fps_avg=as_good,low1_quantile=as_good",
    "together my-study --claims fps_avg=as_good"
  ),
  about = "Do several claims hold together: as fast, and cooler, and holds?",
  options = function() {
    c(
      list(claims = option_text("M=C,M=C", "for each metric as_good (within its worth) or better")),
      input_options(), shared_options("baseline", "worth", "confidence", "format")
    )
  }, rank = 17.25
)
