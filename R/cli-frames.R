# The verb `frames`: where in the distribution of frame times a setting helps or harms.

cli_frames <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  x <- open_input(files[1], options)
  found <- weigh_frames(x,
    baseline = options$baseline, confidence = confidence_share(options$confidence), looks = options$looks
  )
  show_found(found, "frames", format, x)
}

register("verb", "frames",
  takes = "STUDY", files = c(1, 1), run = cli_frames,
  examples = c(
    "frames my-study",
    "frames my-study --confidence 0.9"
  ),
  about = "Where in the distribution of frame times a setting helps or harms.",
  options = function() c(input_options(), shared_options("baseline", "confidence", "looks", "format")), rank = 17.4
)
