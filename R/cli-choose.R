# The verb `choose`: the first value that is good enough, the first near the best, and what a gain costs.

cli_choose <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  asked <- intersect(names(choosing_questions), given_options(options))
  if (length(asked) != 1) {
    abort_needed(if (length(asked)) "name one criterion, not several" else "name one criterion",
      todo = "--floor METRIC=LEVEL, --near-best PERCENT or --cost METRIC|ATTRIBUTE"
    )
  }
  show_answer(answer_asked(registered("question", choosing_questions[[asked]]), files, options), format)
}

# which question each is for
choosing_questions <- c(floor = "floors", near_best = "near", cost = "cost")

register("verb", "choose",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_choose,
  examples = c(
    "choose my-study --floor low1_quantile=60",
    "choose my-study --near-best 2"
  ),
  about = "The first arm that is good enough, the lowest near the best, and what a gain costs.",
  options = function() {
    of_choice <- unlist(lapply(choosing_questions, function(name) names(registered("question", name)$own)))
    c(own_options()[unique(of_choice)], input_options(), shared_options("baseline", "worth", "confidence", "format"))
  }, rank = 17.1
)
