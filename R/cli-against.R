# The verb `against`: a study against earlier ones.

cli_against <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json", "line"), "table")
  fail_on <- fail_words(options$fail_on)
  each <- lapply(files, opened_at_a_time, options = options)
  verdicts <- against_remembering(each[[1]], each[-1], list(
    arm = arm_at_each_time(options$arm), anchor = split_list(options$anchor),
    worth = named_numbers(options$worth, "worth"), primary = split_list(options$primary),
    confidence = confidence_share(options$confidence), steady = options$steady
  ))
  switch(format,
    csv = writeLines(csv_lines(plain_table(verdicts))),
    json = writeLines(json_text(
      changed = attr(verdicts, "changed"), verdicts = verdicts, levels = attr(verdicts, "levels"),
      findings = findings(verdicts), version = package_version_text()
    )),
    line = writeLines(against_line(verdicts)),
    table = writeLines(against_lines(
      verdicts,
      exploratory = isTRUE(options$exploratory), long = isTRUE(options$long),
      commands = follow_ups("against", files, options)
    ))
  )
  if (!is.null(options$history)) append_history(options$history, verdicts)
  if (!is.null(options$file)) {
    save_figure(plot_levels(verdicts), options$file)
    tell_user("written: ", options$file)
  }
  if (any(verdicts$verdict[verdicts$role == "primary"] %in% fail_on)) 1L else 0L
}

# a study, its batch or a report as they are; a table is read as every verb reads it
opened_at_a_time <- function(path, options) {
  if (dir.exists(path) || grepl(":[0-9]+$|[.]html?$", path) || !file.exists(path)) {
    return(path)
  }
  options$arm <- NULL
  read <- tryCatch(open_input(path, options), honestmargin_error_asked = function(e) {
    # where no column could be the arm, all of it is of one
    alone <- length(e$questions) == 1 && e$questions[[1]]$code == "arm" && !length(e$questions[[1]]$choices)
    if (!alone) stop(e)
    open_input(path, c(options, arm = "the machine"))
  })
  readings_at_a_time(readings_of(read), path)
}

# "new driver=driver": what it is called now, and what it was called before
arm_at_each_time <- function(text) {
  parts <- strsplit(empty_to(text, ""), "=", fixed = TRUE)[[1]]
  if (length(parts) == 2) c(now = trimws(parts[1]), before = trimws(parts[2])) else text
}

# one line for the log of a build
against_line <- function(verdicts) {
  primary <- verdicts[verdicts$role == "primary", , drop = FALSE]
  count <- table(factor(primary$verdict, unique(primary$verdict)))
  worst <- primary[order(match(primary$verdict, c("does not hold", "clear loss", "loss")), primary$p_value), ][1, ]
  plain_text(paste0(
    "against ", utils::tail(studies_named(verdicts), 2)[1], ": ", paste(count, names(count), collapse = ", "),
    if (worst$verdict %in% c("clear loss", "loss")) {
      paste0(
        "; ", place_names(worst), " ", worst$metric, " ", shown_change(worst), " (", shown_interval(worst), ")"
      )
    }
  ))
}

# a table that grows by one gate after another; whole or not at all
append_history <- function(path, verdicts) {
  levels <- attr(verdicts, "levels")
  rows <- plain_table(verdicts)[verdicts$role == "primary", c(
    "workload", "context", "metric", "arm_value", "unit", "change", "lower", "upper", "verdict"
  )]
  rows <- cbind(study = utils::tail(levels$study, 1), at = utils::tail(levels$at, 1), rows)
  before <- if (file.exists(path)) readLines(path, warn = FALSE)
  new <- csv_lines(rows)
  if (length(before) && !identical(before[1], new[1])) {
    abort_input("this is no history of gates", path, "name another file, or a new one")
  }
  write_whole(path, function(to) writeLines(c(before, if (length(before)) new[-1] else new), to))
}

register("verb", "against",
  takes = "STUDY|FILE EARLIER ...", files = c(2, Inf), run = cli_against,
  examples = c(
    "against my-study earlier-study",
    "against my-study earlier-study --format json"
  ),
  about = "A study or a table against earlier ones of the same machine.",
  options = function() {
    c(shared_options("worth", "primary", "confidence"), input_options(), list(
      arm = option_text("ARM", "which arm (default: the baseline); where it was called otherwise before: NOW=BEFORE"),
      anchor = option_text("W", "workload that the change cannot touch (default: the plan's anchors)"),
      steady = option_flag("you declare that nothing but the change was different on the two days"),
      `fail-on` = option_text("V,V", "exit with 1 when a primary verdict is one of these: loss, unclear, ..."),
      history = option_text("FILE", "add this gate to a table of gates (CSV)"),
      format = option_text("F", "table, csv, json, or line for the log of a build (default table)", "-f"),
      file = option_text("PATH", "draw the level of study after study (.png, .svg or .pdf)", "-o"),
      exploratory = option_flag("also the comparisons outside the family")
    ), shared_options("long"))
  },
  rank = 17.6
)
