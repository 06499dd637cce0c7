# The verb `undo`: a pass that came in from elsewhere is taken back.

cli_undo <- function(files, options) {
  undo_pass(files[1], files[2], options$reason)
  tell_user("pass ", files[2], " is taken back; its place is open again, and the history shows it")
}

register("verb", "undo",
  takes = "STUDY PASS", files = c(2, 2), run = cli_undo,
  examples = c(
    "undo my-study p021 --reason 'log of another kit'",
    "undo my-study p064 --reason 'came in twice'"
  ),
  about = "Take back a pass that was added or taken by mistake.",
  options = function() shared_options("reason"), rank = 11.5
)
