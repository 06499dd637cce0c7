# Nothing to compare: an arm without a counted reading.

no_design <- function(why) new_design("none", NA_character_, why = why)

register("design", "none", rank = 1, recognise = function(rows, arm, baseline, one_way) {
  n <- c(sum(rows$arm == arm), sum(rows$arm == baseline))
  if (any(n == 0)) no_design(new_code("no_reading", arm = c(arm, baseline)[n == 0][1]))
})
