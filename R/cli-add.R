# The verb `add`: passes, tables and sensor logs from elsewhere.

cli_add <- function(files, options) {
  folder <- files[1]
  # what is there is a file, whatever it holds; anything else is a number that is typed
  given <- c(options$from, if (is.null(options$arm)) files[-1][file.exists(files[-1])])
  if (length(given)) {
    return(add_files(folder, given, options))
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

#' Files of all kinds: tables and results of passes, new logs and the folders they arrive in, sensor logs
#' @noRd
add_files <- function(folder, paths, options) {
  kind <- vapply(paths, kind_of_added, "")
  kind[paths %in% options$from] <- "table"
  if (sum(kind == "table") > 1 && !all(hold_results(paths[kind == "table"]))) {
    for (path in paths[kind == "table"]) add_table(folder, path, options)
  } else if (any(kind == "table")) {
    add_table(folder, paths[kind == "table"], options)
  }
  if (any(kind == "log")) take_inbox(folder, paths[kind == "log"], options)
  for (path in paths[kind == "sensors"]) add_sensor_log(folder, c(list(sensors = path), options))
  0L
}

kind_of_added <- function(path) {
  if (dir.exists(path)) {
    return("log")
  }
  if (!is.null(sheet_ending(path)) || grepl(json_ending, path, ignore.case = TRUE)) {
    return("table")
  }
  lines <- tryCatch(first_lines(path, 60), error = function(e) character())
  # a few numbers are scores, and frames of nothing
  headings <- if (length(lines)) gsub("\"", "", strsplit(lines[1], "[;,\t]")[[1]])
  if (length(headings) && (name_the_arm(headings) || any(tolower(headings) %in% reading_columns))) {
    "table"
  } else if (length(lines) > 50 && holds_frames(path, NULL)) {
    "log"
  } else if (holds_sensors(path)) {
    "sensors"
  } else {
    "table"
  }
}

add_table <- function(folder, path, options) {
  plan <- read_plan(folder)
  said <- said_of_input(path, options)
  # what is tried while somebody chooses is only read
  rows <- read_asking(path, said, keep = isTRUE(options$keep), read = function(said) {
    read_for_plan(plan, path,
      columns = said$columns, answer = said$answer, sheet = said$sheet, names = said$names, better = said$better
    )
  })
  added <- store_table(folder, plan, path, rows)
  tell_user(count_of(nrow(added), "pass", "passes"), " stored from ", some_of(path, 3))
  lines <- finding_lines(findings(added))
  if (length(lines)) tell_user(paste(lines, collapse = "\n"))
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
  takes = "STUDY [FILE|FOLDER ...] [METRIC=VALUE ...]", files = c(1, Inf), run = cli_add,
  examples = c(
    "add my-study --arm 1000 --workload pebblemark score=12412",
    "add my-study inbox --yes"
  ),
  about = "Add passes: files of any kind, or typed numbers.",
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
      shared_options(
        "pass", "layout", "yes", "columns", "answer", "keep", "sheet", "names", "better", "baseline",
        "primary"
      )
    )
  }
)
