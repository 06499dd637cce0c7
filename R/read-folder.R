# A study folder: study.yml, passes.csv, and frames/<pass>.csv.gz or readings.csv.

pass_columns <- c(
  "pass", "workload", "arm", "context", "block", "boot", "order", "outcome", "role", "reason",
  "started", "seconds", "note"
)

#' @return A list: `plan`, `passes` (data frame), `scores` (long readings typed
#'   in `passes.csv` or `readings.csv`, maybe `NULL`), `traces` (named character:
#'   pass -> path), `layout`, `findings`, `folder`.
#' @noRd
read_folder <- function(folder) {
  checkmate::assert_string(folder)
  if (!dir.exists(folder)) {
    abort_input(
      "no such study folder", folder, "check the name; a study folder holds study.yml and passes.csv"
    )
  }
  file <- function(...) file.path(folder, ...)
  if (!file.exists(file("study.yml"))) {
    abort_input(
      "no study.yml in this folder", folder,
      "write the plan there (see the README), or weigh a readings file instead"
    )
  }
  parsed <- parse_yaml_file(file("study.yml"), "plan")
  plan <- check_plan(parsed$value, parsed$line, file("study.yml"))
  out <- list(
    plan = plan, layout = plan$frames_layout, traces = find_traces(file("frames")),
    sensors = find_traces(file("sensors")), marks = find_traces(file("marks"))
  )
  if (file.exists(file("readings.csv"))) {
    out$scores <- read_readings(
      file("readings.csv"),
      metrics = plan_metrics(plan, known_metrics())
    )
  }
  if (file.exists(file("passes.csv"))) {
    table <- read_text_table(file("passes.csv"), "list of passes")
    out$passes <- read_passes(table, file("passes.csv"))
    out$scores <- rbind(out$scores, pass_scores(table, out$passes, plan, file("passes.csv")))
    check_traces(out$traces, out$passes$pass, file("frames"), "frame log")
    check_traces(out$sensors, out$passes$pass, file("sensors"), "sensor log")
  } else if (is.null(out$scores)) {
    abort_input("neither passes.csv nor readings.csv in this folder", folder, "a study needs its passes")
  } else {
    out$passes <- unique(as.data.frame(out$scores)[intersect(pass_columns, names(out$scores))])
  }
  out
}

find_traces <- function(folder) {
  files <- list.files(folder, pattern = "[.](csv|txt|tsv|log)([.]gz)?$", full.names = TRUE)
  stats::setNames(files, sub("[.](csv|txt|tsv|log)([.]gz)?$", "", basename(files)))
}

#' Marks of a pass: `time_s` on the clock of its frame log, `word`, `value`
#' @noRd
read_marks <- function(path) {
  cells <- read_text_table(path, "list of marks")$cells
  missing <- setdiff(names(no_marks()), names(cells))
  if (length(missing)) abort_input(paste0("no column '", missing[1], "'"), path, "marks have time_s, word and value")
  wrong <- setdiff(cells$word, mark_words)
  if (length(wrong)) abort_input(paste0("'", wrong[1], "' is no mark"), path, did_you_mean(wrong[1], mark_words))
  data.frame(time_s = as.numeric(cells$time_s), word = cells$word, value = empty_na(cells$value))
}

check_traces <- function(traces, passes, folder, what) {
  stray <- setdiff(names(traces), passes)
  if (length(stray)) {
    abort_input(
      paste0(what, " '", stray[1], "' belongs to no pass in passes.csv"), folder, did_you_mean(stray[1], passes)
    )
  }
  twice <- names(traces)[duplicated(names(traces))]
  if (length(twice)) abort_input(paste0("two ", what, "s for pass '", twice[1], "'"), folder, "keep one of them")
}

read_passes <- function(table, path) {
  cells <- table$cells
  for (column in c("pass", "workload", "arm")) {
    if (!column %in% names(cells)) {
      abort_input(
        paste0("no column '", column, "'"), path, "a list of passes has at least pass, workload and arm"
      )
    }
  }
  row_of <- function(i) c(path, paste0("line ", some_of(cells$.line[i])))
  if (anyNA(cells$pass)) abort_input("a pass without an id", row_of(which(is.na(cells$pass))), "give each pass an id")
  if (anyDuplicated(cells$pass)) {
    twice <- cells$pass[duplicated(cells$pass)][1]
    abort_input(
      paste0("pass '", twice, "' is listed twice"), row_of(which(cells$pass == twice)), "give each pass its own id"
    )
  }
  for (column in setdiff(pass_columns, names(cells))) cells[[column]] <- NA_character_
  cells <- number_columns(cells, path)
  cells$outcome[is.na(cells$outcome)] <- "ok"
  cells$role[is.na(cells$role)] <- "counted"
  check_word(cells$outcome, outcomes, "outcome", row_of)
  check_word(cells$role, roles, "role", row_of)
  cells[c(pass_columns, ".line")]
}

# every further column of passes.csv is a score that was typed in
pass_scores <- function(table, passes, plan, path) {
  metrics <- setdiff(names(table$cells), c(pass_columns, ".line"))
  if (!length(metrics)) {
    return(NULL)
  }
  cells <- cbind(passes[setdiff(names(passes), c("started", "note"))], table$cells[metrics])
  long <- widen_to_long(list(cells = cells), path)
  typed <- !is.na(long$value)
  expected <- long$workload %in% unique(long$workload[typed]) # a crashed pass still is a row there
  where <- paste(long$metric, long$workload)
  long <- long[where %in% where[typed] & expected, , drop = FALSE]
  if (!nrow(long)) {
    return(NULL)
  }
  long$order <- as.character(long$order)
  long$seconds <- as.character(long$seconds)
  read <- read_values(long, table, path)
  full <- complete_readings(read$cells, plan_metrics(plan, known_metrics()), source = path, lines = read$cells$.line)
  full[c(reading_columns, "scale")]
}
