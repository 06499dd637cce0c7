# The verbs that add to the record: add, take, mark, exclude, include, correct, note, repeat; and
# those that show it: history, conditions.

cli_add <- function(files, options) {
  folder <- files[1]
  if (!is.null(options$from)) {
    return(add_table(folder, options$from))
  }
  if (!is.null(options$sensors)) {
    return(add_sensor_log(folder, options))
  }
  values <- typed_values(c(
    files[-1], if (!is.null(options$value)) paste0(empty_to(options$metric, "score"), "=", options$value)
  ))
  if (is.null(options$arm)) abort_needed("which arm?", todo = "give --arm")
  frames <- if (!is.null(options$frames)) read_frames(options$frames, options$layout)$frame_time_ms
  added <- add_pass(folder, options$arm, options$workload, options$context, options$block, values, frames,
    outcome = empty_to(options$outcome, "ok"), note = options$note, proof = options$proof
  )
  message("stored as pass ", added$pass, if (added$extra) " (an extra one: the plan has none of this kind left)")
}

add_sensor_log <- function(folder, options) {
  offset <- if (!is.null(options$offset)) suppressWarnings(as.numeric(options$offset))
  if (isTRUE(is.na(offset))) abort_usage(paste0("--offset ", options$offset, ": not a number of seconds"))
  added <- add_sensors(folder, options$sensors, options$layout, offset, options$pass)
  message(
    "sensors stored for ", count_of(nrow(added), "pass", "passes"), ": ",
    some_of(paste0(added$pass, " (", added$samples, " samples)"), 6)
  )
}

typed_values <- function(words) {
  if (!length(words)) {
    return(NULL)
  }
  if (!all(grepl("=", words, fixed = TRUE))) {
    abort_usage(paste0(
      "'", words[!grepl("=", words)][1], "' is not METRIC=VALUE"
    ))
  }
  text <- sub("^[^=]*=", "", words)
  value <- vapply(text, function(t) {
    parsed <- parse_typed_numbers(t)
    if (length(parsed$bad) || is.na(parsed$value)) {
      abort_usage(
        paste0("'", plain_text(t), "' is not a number"),
        todo = "write 12.5, 1,234 or 1:05.2"
      )
    }
    parsed$value
  }, 1)
  stats::setNames(value, sub("=.*$", "", words))
}

# Scores typed elsewhere: every pass of the table becomes a pass of the study.
add_table <- function(folder, path) {
  rows <- read_readings(path)
  passes <- split(rows, factor(rows$pass, unique(rows$pass)))
  for (p in passes) {
    known <- p[!is.na(p$value), , drop = FALSE]
    values <- if (nrow(known)) stats::setNames(known$value, known$metric)
    workload <- if (p$workload[1] == "main") NULL else p$workload[1]
    context <- if (is.na(p$context[1])) NULL else p$context[1]
    block <- if (is.na(p$block[1])) NULL else p$block[1]
    add_pass(
      folder, p$arm[1], workload, context, block, values,
      outcome = p$outcome[1],
      note = paste("taken from", basename(path))
    )
  }
  message(count_of(length(passes), "pass", "passes"), " stored from ", path)
}

cli_take <- function(files, options) {
  confirm <- function(matched) {
    writeLines(table_lines(text_of(matched[c("file", "written", "seconds", "fps_avg", "pass", "arm", "workload")])))
    isTRUE(options$yes) || (is_terminal() && tolower(read_answer("Store them so? y/n: ")) %in% c("y", "yes"))
  }
  matched <- take_logs(files[1], files[2], confirm)
  for (i in which(nzchar(matched$problem))) {
    message(
      "not taken: ", matched$file[i], ": ", sub("^.*?: ", "", matched$problem[i], perl = TRUE)
    )
  }
  if (!nrow(matched)) message("nothing new in ", files[2])
  over <- sum(is.na(matched$pass) & !nzchar(matched$problem))
  if (over) message(count_of(over, "file"), " more than there are open passes")
  if (any(matched$stored)) {
    message(
      count_of(sum(matched$stored), "log"), " stored"
    )
  } else {
    message("nothing stored", if (!isTRUE(options$yes)) " (--yes stores without asking)")
  }
}

text_of <- function(table) as.data.frame(lapply(table, function(v) empty_na(as.character(v))))

# What counts is when the key was pressed, not when R had started.
cli_mark <- function(files, options) {
  line <- mark_pass(
    files[1], files[2], paste(files[-(1:2)], collapse = " "),
    at_s = monotonic_s() - proc.time()[["elapsed"]]
  )
  message("marked: ", sub("^[^ ]* ", "", line))
}

cli_exclude <- function(files, options) {
  exclude_pass(files[1], files[2], options$reason)
  message("pass ", files[2], " no longer counts; honestmargin include takes it back in")
}

cli_include <- function(files, options) {
  include_pass(files[1], files[2], options$reason)
  message("pass ", files[2], " counts again")
}

cli_correct <- function(files, options) {
  values <- typed_values(files[-(1:2)])
  if (!length(values) && is.null(options$outcome)) {
    abort_needed("nothing to correct", todo = "give METRIC=VALUE, or --outcome")
  }
  for (metric in names(values)) correct_reading(files[1], files[2], metric, values[[metric]], options$reason)
  if (!is.null(options$outcome)) correct_outcome(files[1], files[2], options$outcome, options$reason)
  message("corrected; what was recorded first stays in the history")
}

cli_note <- function(files, options) {
  note_pass(files[1], files[2], options$pass)
  message("noted")
}

cli_history <- function(files, options) {
  emit_table(study_history(files[1]), options, function(t) {
    said <- paste0(t$detail, ifelse(nzchar(t$detail) & nzchar(t$reason), ": ", ""), t$reason)
    data.frame(when = substr(sub("T", " ", t$at), 1, 19), what = t$kind, pass = t$pass, said = said)
  })
}

cli_conditions <- function(files, options) {
  found <- study_conditions(files[1], isTRUE(options$all))
  if (!nrow(found)) message("no condition differs between the arms, and none drifted (--all shows the steady ones)")
  emit_table(found, options)
}

emit_table <- function(table, options, short = identity) {
  switch(one_word(options$format, "format", c("table", "csv", "json"), "table"),
    csv = writeLines(csv_lines(table)),
    json = writeLines(json_text(rows = table, version = package_version_text())),
    table = writeLines(table_lines(short(text_of(table)), width = if (isTRUE(options$wide)) 400 else 80))
  )
  0L
}

cli_repeat <- function(files, options) {
  batch <- repeat_study(files[1])
  message(
    "batch ", batch, " is sealed\n  -> run it: honestmargin run ", files[1],
    "\n  -> weigh it alone: honestmargin weigh ", files[1], " --batch ", batch
  )
}

cli_export <- function(files, options) {
  batch <- if (!is.null(options$batch)) whole_number(options$batch, "batch")
  write_study(read_study(files[1], batch = batch), files[2])
  message("written: ", files[2])
}
