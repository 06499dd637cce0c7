# The verb `conditions`.

cli_conditions <- function(files, options) {
  found <- study_conditions(files[1], all = isTRUE(options$all))
  if (is.null(found)) {
    abort_input(
      "nothing was recorded of the machine beside these passes", files[1],
      "only a run of this tool, and what is added to one, records it"
    )
  }
  if (!nrow(found)) {
    tell_user(
      "nothing differed between the arms or drifted, and no other program was at work (--all shows all)"
    )
  }
  emit_table(found, options)
}

register("verb", "conditions",
  takes = "STUDY", files = c(1, 1), run = cli_conditions,
  examples = c(
    "conditions my-study",
    "conditions my-study --all"
  ),
  about = "What differed between the arms beside the setting.",
  options = function() c(list(all = option_flag("the steady ones too")), shared_options("format", "wide")), rank = 14
)
