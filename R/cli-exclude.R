# The verbs `exclude` and `include`: whether a pass counts.

part_number <- function(options) if (!is.null(options$part)) whole_number(options$part, "part")

cli_exclude <- function(files, options) {
  exclude_pass(files[1], files[2], options$reason, part = part_number(options))
  tell_user("pass ", files[2], " no longer counts; honestmargin include takes it back in")
}

cli_include <- function(files, options) {
  include_pass(files[1], files[2], options$reason, part = part_number(options))
  tell_user("pass ", files[2], " counts again")
}

register("verb", "exclude",
  takes = "STUDY PASS", files = c(2, 2), run = cli_exclude,
  examples = c(
    "exclude my-study p003 --reason 'an update ran'",
    "exclude my-study p006 --reason 'a call came in'"
  ),
  about = "Exclude a pass, with a reason.",
  options = function() shared_options("reason", "part"), rank = 9
)
register("verb", "include",
  takes = "STUDY PASS", files = c(2, 2), run = cli_include,
  examples = c(
    "include my-study p016 --reason 'it was no update'",
    "include my-study p003 --reason 'excluded by mistake'"
  ),
  about = "Let an excluded pass count again.",
  options = function() shared_options("reason", "part"), rank = 10
)
