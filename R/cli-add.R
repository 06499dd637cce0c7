# The verb `add`: passes, tables and sensor logs from elsewhere.

cli_add <- function(files, options) {
  folder <- files[1]
  if (!is.null(options$from)) {
    added <- add_passes(folder, options$from)
    tell_user(count_of(nrow(added), "pass", "passes"), " stored from ", options$from)
    lines <- finding_lines(findings(added))
    if (length(lines)) tell_user(paste(lines, collapse = "\n"))
    return(0L)
  }
  if (!is.null(options$sensors)) {
    return(add_sensor_log(folder, options))
  }
  values <- typed_values(c(
    files[-1], if (!is.null(options$value)) paste0(empty_to(options$metric, "score"), "=", options$value)
  ))
  if (is.null(options$arm)) abort_needed("which arm?", todo = "give --arm")
  added <- add_pass(folder, options$arm, options$workload, options$context, options$block, values,
    frames = options$frames, layout = options$layout, outcome = empty_to(options$outcome, "ok"),
    role = if (isTRUE(options$warm_up)) "warm_up" else "counted",
    note = options$note, proof = options$proof
  )
  tell_user("stored as pass ", added$pass, if (added$extra) " (an extra one: the plan has none of this kind left)")
}

add_sensor_log <- function(folder, options) {
  offset <- if (!is.null(options$offset)) suppressWarnings(as.numeric(options$offset))
  if (isTRUE(is.na(offset))) abort_usage(paste0("--offset ", options$offset, ": not a number of seconds"))
  added <- add_sensors(folder, options$sensors, options$layout, offset = offset, pass = options$pass)
  tell_user(
    "sensors stored for ", count_of(nrow(added), "pass", "passes"), ": ",
    some_of(paste0(added$pass, " (", added$samples, " samples)"), 6)
  )
}

register("verb", "add",
  takes = "STUDY [METRIC=VALUE ...]", files = c(1, Inf), run = cli_add,
  examples = c(
    "add my-study --arm 1000 --workload pebblemark score=12412",
    "add my-study --arm 125 --workload tunnel --outcome crash --note 'screen went black'"
  ),
  about = "Add a pass that was run elsewhere.",
  rank = 6,
  options = function() {
    c(
      list(
        arm = option_text("ARM", "value of the setting"), workload = option_text("W", "which workload"),
        context = option_text("C", "level of the second factor"), block = option_text("B", "which block"),
        metric = option_text("M", "which metric the value is of"),
        value = option_text("V", "the number (or write METRIC=VALUE after the study)"),
        frames = option_text("FILE", "frame log of the pass"), from = option_text(
          "FILE", "a CSV of scores, long or wide"
        ),
        sensors = option_text("FILE", "sensor log of another program, cut to the passes that it covers"),
        offset = option_text("S", "seconds to add to the clock of the sensor log"),
        outcome = option_text("O", "what happened: ok, crash, down, freeze, artefact, ..."),
        `warm-up` = option_flag("it is a warm-up pass"),
        note = option_text("TEXT", "what was seen or felt"), proof = option_text(
          "FILE", "a picture to keep with the pass"
        )
      ),
      shared_options("pass", "layout")
    )
  }
)
