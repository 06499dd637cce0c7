# The verb `repeat`.

cli_repeat <- function(files, options) {
  batch <- repeat_study(files[1])
  tell_user(
    "batch ", batch, " is sealed\n  -> run it: honestmargin run ", files[1],
    "\n  -> weigh it alone: honestmargin weigh ", files[1], " --batch ", batch
  )
}

register("verb", "repeat",
  takes = "STUDY", files = c(1, 1), run = cli_repeat,
  about = "Add a fresh sealed batch, weighed alone.", rank = 15
)
