# The verb `plan`: what will run, and what it can show.

cli_plan <- function(files, options) {
  planned <- plan_study(files[1],
    noise = named_numbers(options$noise_level, "noise-level"), memory = !isTRUE(options$no_memory),
    minutes = if (!is.null(options$minutes)) named_numbers(options$minutes, "minutes")
  )
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  if (isTRUE(options$card)) {
    writeLines(card_lines(planned))
    return(0L)
  }
  switch(format,
    csv = writeLines(csv_lines(planned$schedule)),
    json = writeLines(json_text(
      schedule = planned$schedule, power = planned$power, alternatives = planned$alternatives,
      findings = findings(planned), seconds = planned$seconds,
      version = package_version_text()
    )),
    table = print(planned)
  )
  0L
}

register("verb", "plan",
  takes = "PLAN|STUDY", files = c(1, 1), run = cli_plan,
  examples = c(
    "plan my-study",
    "plan my-study --card"
  ),
  about = "Check a plan: what will run, and what it can show.",
  options = function() {
    c(
      list(
        card = option_flag("the steps by hand on one page, to print"),
        minutes = option_text("N", "the time that there is: what else it would buy"),
        `noise-level` = option_text("M=P", "noise of one pass that you know: fps_avg=0.8")
      ),
      shared_options("no-memory", "format")
    )
  },
  rank = 3
)
