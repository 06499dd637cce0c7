# The verb `check`.

cli_check <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  fail_on <- if (!is.null(options$fail_on)) one_word(options$fail_on, "fail-on", severities, NULL)
  x <- open_input(files[1], options)
  how <- weigh_options(options)
  checked <- do.call(check_passes, c(list(x), if (!has_one_arm(x)) how))
  found <- findings(checked, exploratory = isTRUE(options$exploratory))
  passes <- checked$passes
  passes$seen <- vapply(passes$seen, paste, "", collapse = " ")
  switch(format,
    table = writeLines(answer_shown(checked, exploratory = isTRUE(options$exploratory))),
    csv = writeLines(csv_lines(found)),
    json = writeLines(json_text(
      findings = found, passes = passes, read = read_as_list(x), version = package_version_text()
    ))
  )
  if (!is.null(fail_on) && any(match(found$severity, severities) <= match(fail_on, severities))) 1L else 0L
}

register("verb", "check",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_check,
  examples = c(
    "check my-study",
    "check my-study --fail-on blocking --format json"
  ),
  about = "Can these passes be believed? What every check saw.",
  options = function() {
    c(weighing_options(), shared_options("format"), list(
      exploratory = option_flag("also what matters to metrics that are not judged"),
      `fail-on` = option_text("SEVERITY", "exit with 1 when something is as grave as blocking, warning or note")
    ))
  },
  rank = 16.5
)
