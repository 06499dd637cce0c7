# The verb `mark`: what happens now in the pass that runs.

# What counts is when the key was pressed, not when R had started.
cli_mark <- function(files, options) {
  line <- mark_pass(
    files[1], files[2], paste(files[-(1:2)], collapse = " "),
    at_s = monotonic_s() - proc.time()[["elapsed"]]
  )
  tell_user("marked: ", sub("^[^ ]* ", "", line))
}

register("verb", "mark",
  takes = "STUDY WORD [VALUE]", files = c(2, Inf), run = cli_mark,
  examples = c(
    "mark my-study segment harbour",
    "mark my-study arm 1000"
  ),
  about = "Mark the running pass: segment, pause, resume, arm, loop, note.",
  rank = 8
)
