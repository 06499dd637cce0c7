# The verbs `repeat` and `extend`: more passes, judged alone or openly added.

cli_repeat <- function(files, options) {
  blocks <- if (!is.null(options$blocks)) whole_number(options$blocks, "blocks")
  batch <- repeat_study(files[1], blocks = blocks)
  tell_user(
    "batch ", batch, " is sealed\n  -> run it: honestmargin run ", files[1],
    "\n  -> weigh it alone: honestmargin weigh ", files[1], " --batch ", batch
  )
}

cli_extend <- function(files, options) {
  if (is.null(options$blocks)) abort_needed("how many blocks?", todo = "give --blocks N")
  batch <- if (!is.null(options$batch)) batch_number(options$batch)
  added <- extend_study(files[1], whole_number(options$blocks, "blocks"), batch = batch)
  tell_user(
    count_of(added, "pass", "passes"), " added; the study is judged by intervals that allow for looks from now on",
    "\n  -> run them: honestmargin run ", files[1]
  )
}

register("verb", "extend",
  takes = "STUDY", files = c(1, 1), run = cli_extend,
  examples = c(
    "extend my-study --blocks 2",
    "extend my-study --blocks 1"
  ),
  about = "Add further blocks to a study, judged as looked at.",
  options = function() c(list(blocks = option_text("N", "how many")), shared_options("batch")), rank = 15.5
)
register("verb", "repeat",
  takes = "STUDY", files = c(1, 1), run = cli_repeat,
  examples = c(
    "repeat my-study --blocks 8",
    "repeat my-study"
  ),
  about = "Add a fresh sealed batch, weighed alone.",
  options = function() list(blocks = option_text("N", "as many blocks, instead of those of the plan")), rank = 15
)
