# From a path to a study or a table of readings, and what the options say of how it is read.

#' @return A study or a readings table.
#' @noRd
open_input <- function(path, options) {
  path[path == "-"] <- if ("-" %in% path) file_of_pipe()
  # <(...) of a shell is read once, as what comes through a pipe
  piped <- file.exists(path) & !dir.exists(path) & !is_plain_file(path)
  path[piped] <- vapply(path[piped], file_of_pipe, "")
  if (length(path) == 1 && grepl(archive_ending, path, ignore.case = TRUE)) path <- unpacked(path)
  if (length(path) > 1 || is_bare_folder(path)) {
    return(open_logs(path, options))
  }
  if (grepl("[.]html?$", path, ignore.case = TRUE)) {
    assert_no_idle(options, path, names(reading_options))
    return(read_report(path))
  }
  if (dir.exists(path)) {
    assert_no_idle(options, path, setdiff(names(reading_options), c("layout", "batch")))
    batch <- if (!is.null(options$batch)) batch_number(options$batch)
    study <- read_study(path, layout = options$layout, batch = batch)
    assert_compares(study)
    return(study)
  }
  if (!any(c("columns", "arm", "sheet") %in% given_options(options)) && is_frame_log(path, options$layout)) {
    return(open_logs(path, options))
  }
  open_table(path, options)
}

open_table <- function(path, options, idle = c("names", "score", "batch")) {
  assert_no_idle(options, path, idle)
  said <- said_of_input(path, options)
  if (isTRUE(options$uncompared) && is.null(said$primary)) said["primary"] <- list(character())
  found <- read_asking(path, said, keep = isTRUE(options$keep), read = function(said) {
    read_readings(path,
      better = said$better, primary = said$primary, columns = said$columns, arm = said$arm, names = said$names,
      sheet = said$sheet, baseline = said$baseline, answer = said$answer
    )
  })
  if (!is.null(options$save)) {
    keep_readings(found, options$save, attr(found, "said_baseline"), named_numbers(options$worth, "worth"))
    tell_user("kept in ", options$save)
  }
  found
}

directions_given <- function(options, none = NULL) named_words(options$better, "better", c("higher", "lower", none))

# neither plan nor ledger: logs, known by their names, or one table
is_bare_folder <- function(path) dir.exists(path) && !file.exists(file.path(path, "study.yml")) && !has_ledger(path)

# what settles how something is read, and of what
reading_options <- c(
  answer = "tables", keep = "tables", names = "logs that have no plan", score = "logs that have no plan",
  save = "what has no plan",
  layout = "logs of frames", sheet = "workbooks", columns = "tables", arm = "a table that does not say its arm",
  better = "tables and printed scores, while the plan of a study says it", batch = "studies that were repeated"
)

# flags that were not given stand at FALSE
given_options <- function(options) names(Filter(function(v) length(v) > 0 && !identical(v, FALSE), options))
option_word <- function(name) paste0("--", gsub("_", "-", name))

# what is given and would do nothing must not seem to have done something
assert_no_idle <- function(options, path, idle, are_for = reading_options) {
  # all batches of what has none are all that there is
  if (identical(options$batch, "all")) idle <- setdiff(idle, "batch")
  idle <- intersect(idle, given_options(options))
  if (length(idle)) {
    abort_usage(
      paste(option_word(idle[1]), "is for", are_for[[idle[1]]]), some_of(path, 3),
      todo = "leave it out here"
    )
  }
}

# what comes through a pipe, as a file
file_of_pipe <- function(from = "stdin") {
  folder <- tempfile("pipe-")
  dir.create(folder)
  path <- file.path(folder, "standard input")
  from <- file(from, "rb")
  on.exit(close(from))
  writeLines(readLines(from, warn = FALSE), path, useBytes = TRUE)
  path
}

#' Results of passes, named, or of a folder in which they are not what lies beside logs
#' @return A list: `files` (none where nothing is meant as a result), `left` (what lies beside them).
#' @noRd
result_files <- function(files) {
  json <- grepl(json_ending, files, ignore.case = TRUE)
  ours <- if (any(json)) json else hold_results(files)
  others <- !ours & grepl(log_ending, files)
  # one text beside results as JSON holds what they have in common; logs of frames say more than results
  meant <- !any(others) || sum(ours) > sum(others) && if (any(json)) sum(others) == 1 else no_frames(files[others])
  if (!meant) {
    return(NULL)
  }
  if (!any(json)) assert_results(files[ours | others], ours[ours | others])
  list(files = files[ours], left = basename(files[others]))
}

no_frames <- function(paths) !any(vapply(paths, holds_frames, NA, layout = NULL))

open_logs <- function(path, options) {
  # what was kept beside them of their names
  kept <- kept_layout(path, options$layout)
  for (part in setdiff(
    intersect(names(kept), c("names", "baseline")),
    given_options(options)
  )) {
    options[[part]] <- kept[[part]]
  }
  named <- length(path) > 1
  files <- if (named) path else plain_files(path, recursive = TRUE)
  results <- if (!any("score" %in% given_options(options), is_log_layout(options$layout))) result_files(files)
  if (length(results$files)) {
    table <- open_table(results$files, options, c("batch", if (length(results$files) == 1) "names"))
    left <- if (length(results$left)) new_finding("note", "left_beside_results", files = results$left)
    attr(table, "findings") <- bind_findings(attr(table, "findings"), left)
    return(table)
  }
  if (!named) files <- grep(log_ending, files, value = TRUE)
  if (length(files) == 1 && is.null(options$score) && !is_frame_log(files, options$layout)) {
    return(open_table(files, options))
  }
  of_logs <- c(c("names", "score", "save") %in% given_options(options), is_log_layout(options$layout))
  if (!any(of_logs) && !any(dir.exists(files)) && are_arm_tables(files, options$columns)) {
    return(open_table(files, options))
  }
  score <- score_pattern(options$score)
  assert_no_idle(options, path, c("columns", "answer", "keep", "sheet", "arm", "batch", if (is.null(score)) "better"))
  better <- directions_given(options)
  study <- read_logs(path,
    names = options$names, baseline = if (isTRUE(options$uncompared)) NA else options$baseline,
    layout = options$layout, save = options$save, score = score,
    better = if (isTRUE(names(score) %in% names(better))) better[[names(score)]]
  )
  found <- study$findings[study$findings$code %in% c("from_names", "log_column", "order_in_times"), ]
  tell_user(paste(record_words(found), collapse = "; "))
  if (!is.null(options$save)) tell_user("kept in ", options$save)
  study
}

# a layout says how logs are built, or how tables are
is_log_layout <- function(layout) {
  !is.null(layout) && any(layout_keys %in% names(layout_given(layout, c(layout_keys, table_keys))$layout))
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
