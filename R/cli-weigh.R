# The verbs that weigh: from a path to a study or readings, and to verdicts.

#' @return A study or a readings table.
#' @noRd
open_input <- function(path, options) {
  if (length(path) > 1 || is_bare_folder(path)) {
    return(open_logs(path, options))
  }
  assert_no_idle(options, path)
  if (grepl("[.]html?$", path, ignore.case = TRUE)) {
    return(read_report(path))
  }
  if (dir.exists(path)) {
    batch <- if (!is.null(options$batch)) batch_number(options$batch)
    study <- read_study(path, layout = options$layout, batch = batch)
    assert_compares(study)
    return(study)
  }
  open_table(path, options)
}

open_table <- function(path, options) {
  read_readings(path,
    better = directions_given(options),
    columns = named_texts(options$columns, "columns"), arm = options$arm
  )
}

directions_given <- function(options) named_words(options$better, "better", c("higher", "lower"))

# neither plan nor ledger: logs, known by their names, or one table
is_bare_folder <- function(path) dir.exists(path) && !file.exists(file.path(path, "study.yml")) && !has_ledger(path)

# what says how files are grouped says nothing of a study or a table
assert_no_idle <- function(options, path) {
  idle <- intersect(c("names", "score", "save"), names(Filter(length, options)))
  if (length(idle)) {
    abort_usage(
      paste0("--", idle[1], " is for logs that have no plan"), path,
      todo = "name a folder of logs, or several of them"
    )
  }
}

open_logs <- function(path, options) {
  one <- if (length(path) == 1) list.files(path, pattern = log_ending, full.names = TRUE, recursive = TRUE)
  if (length(one) == 1 && is.null(options$score)) {
    assert_no_idle(options, one)
    return(open_table(one, options))
  }
  files <- if (length(path) > 1) path[!dir.exists(path)] else one
  idle <- c("names", "score", "save", "layout") %in% names(Filter(length, options))
  if (!any(idle) && length(files) == max(length(path), length(one)) && are_arm_tables(files, options$columns)) {
    return(open_table(files, options))
  }
  score <- score_pattern(options$score)
  better <- directions_given(options)
  study <- read_logs(path,
    names = options$names, baseline = options$baseline, layout = options$layout, save = options$save, score = score,
    better = if (isTRUE(names(score) %in% names(better))) better[[names(score)]]
  )
  found <- study$findings[study$findings$code %in% c("from_names", "order_in_times"), ]
  tell_user(paste(record_words(found), collapse = "; "))
  if (!is.null(options$save)) tell_user("kept in ", options$save)
  study
}

# METRIC=PATTERN; a pattern may hold anything
score_pattern <- function(text) {
  if (is.null(text)) {
    return(NULL)
  }
  if (!grepl("^[^=]+=.", text)) {
    abort_usage(paste0("--score ", text, ": expected METRIC=PATTERN"), todo = "--score 'fps=Average: ([0-9.]+)'")
  }
  stats::setNames(sub("^[^=]+=", "", text), trimws(sub("=.*$", "", text)))
}

batch_number <- function(text) {
  if (text == "all") {
    abort_usage("one batch at a time here", todo = "--batch all is for weigh, report and export")
  }
  whole_number(text, "batch")
}

all_batches <- function(path, options) identical(options$batch, "all") && dir.exists(path)

#' Verdicts on what a path holds: of one batch, or of all of them side by side
#' @param x From `open_input()`; not looked at where all batches are asked for.
#' @noRd
weigh_input <- function(path, options, x) {
  if (all_batches(path, options)) {
    return(do.call(weigh_batches, c(list(path), weigh_options(options))))
  }
  weigh_remembering(x, weigh_options(options))
}

#' What the options say, as arguments of `weigh()`
#' @noRd
weigh_options <- function(options) {
  list(
    baseline = options$baseline, worth = named_numbers(options$worth, "worth"), primary = split_list(options$primary),
    confidence = confidence_share(options$confidence), steady = options$steady,
    noise = if (!is.null(options$noise)) known_noise(options$noise),
    with_excluded = options$with_excluded, no_limiter = options$no_limiter, looks = options$looks,
    against = one_word(options$against, "against", c("baseline", "all", "attributes"), "baseline")
  )
}

# the repeats of the baseline, or a table
known_noise <- function(text) {
  if (text %in% c("baseline", "memory") && !file.exists(text)) text else read_noise(text)
}

confidence_share <- function(text) {
  if (is.null(text)) {
    return(NULL)
  }
  percent <- grepl("%$", text)
  value <- suppressWarnings(as.numeric(sub("%$", "", text))) / (if (percent) 100 else 1)
  if (is.na(value) || value <= 0.5 || value >= 1) {
    abort_usage(
      paste0("--confidence ", text, ": expected a share between 0.5 and 1, or a percentage with its sign"),
      todo = "0.95, or 95%, is the usual choice"
    )
  }
  value
}

cli_weigh <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  fail_on <- fail_words(options$fail_on)
  x <- if (!all_batches(files[1], options)) open_input(files, options)
  if (!is.null(x) && has_one_arm(x)) {
    tell_user("one arm only: nothing is compared; this describes it (honestmargin describe)")
    return(show_description(describe_remembering(x), format, options$exploratory))
  }
  verdicts <- only_rows(
    weigh_input(files[1], options, x),
    split_list(options$workload), split_list(options$metric), split_list(options$context)
  )
  otherwise <- after_the_fact(verdicts)
  batches <- attr(verdicts, "batches")
  switch(format,
    # what was asked for after the seal has the code after_the_fact in its rows
    csv = writeLines(csv_lines(stack_rows(list(empty_to(batches, plain_table(verdicts)), otherwise$verdicts)))),
    json = writeLines(do.call(json_text, c(
      list(
        headline = headline(verdicts), sentences = as.list(sentences(verdicts)), verdicts = verdicts,
        findings = findings(verdicts, exploratory = TRUE),
        left_out = passes_without_value(passes_of(what_was_weighed(verdicts)))
      ),
      if (!is.null(batches)) list(batches = plain_json(batches)),
      if (!is.null(otherwise)) list(after_the_fact = lapply(otherwise, plain_json)),
      list(version = package_version_text())
    ))),
    table = writeLines(c(
      verdict_lines(verdicts, options$wide, options$exploratory),
      outcome_lines(outcome_table(verdicts), labels_of(verdicts), judged_workloads(verdicts)),
      event_lines(verdicts, labels_of(verdicts)),
      limiting_lines(verdicts), single_lines(verdicts),
      finding_lines(findings(verdicts, exploratory = options$exploratory))
    ))
  )
  if (any(verdicts$verdict[verdicts$role == "primary"] %in% fail_on)) 1L else 0L
}

# beside the noise at which a single reading would stand, what is known of such noise here
single_lines <- function(verdicts) {
  open <- has_code(verdicts$codes, "break_even")
  said <- if (any(open)) usual_noise_words(usual_noise(unique(verdicts$metric[open])))
  if (!is.null(said)) c("", fold(said, rest = ""))
}

limiting_lines <- function(verdicts) {
  x <- what_was_weighed(verdicts)
  said <- if (is_study(x)) limiting_sentences(limiting_by_arm(x), labels_of(verdicts))
  said <- said[names(said) %in% c(place_names(verdicts[c("workload", "context")]), verdicts$workload)]
  limiting_text(said)
}

fail_words <- function(text) {
  words <- gsub("-", " ", split_list(text), fixed = TRUE)
  known <- names(plain_answers)
  wrong <- setdiff(words, known)
  if (length(wrong)) {
    abort_usage(
      paste0("--fail-on names '", wrong[1], "', which is no verdict"),
      todo = did_you_mean(wrong[1], known)
    )
  }
  # a clear loss is a loss too, and never to hold is the worst of them
  unique(c(words, paste("clear", intersect(words, c("gain", "loss"))), if ("loss" %in% words) "does not hold"))
}

register("verb", "weigh",
  takes = "FILE|STUDY|LOGS", files = c(1, Inf), run = cli_weigh,
  examples = c(
    "weigh my-study",
    "weigh my-study --against all --format csv"
  ),
  about = "Weigh the arms against the baseline.",
  options = function() {
    c(weighing_options(), shared_options("workload", "metric", "context", "format", "wide"), list(
      names = option_text("SHAPE", "how the names of logs are built: '{arm}_run{pass}.csv', {workload}, {any}"),
      score = option_text("M=PATTERN", "the number in each file that a program printed: 'fps=Average: ([0-9.]+)'"),
      save = option_text("FOLDER", "keep logs that have no plan as a study folder"),
      exploratory = option_flag("also the comparisons outside the family"),
      `fail-on` = option_text("V,V", "exit with 1 when a primary verdict is one of these: loss, gain, unclear, ...")
    ))
  },
  rank = 17
)
