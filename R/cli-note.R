# The verb `note`.

cli_note <- function(files, options) {
  note_pass(files[1], files[2], options$pass)
  tell_user("noted")
}

register("verb", "note",
  takes = "STUDY TEXT", files = c(2, 2), run = cli_note,
  examples = c(
    "note my-study 'the fan was loud all day'",
    "note my-study 'stutter at the quay' --pass p003"
  ),
  about = "Note something on a study or a pass.",
  options = function() shared_options("pass"), rank = 12
)
