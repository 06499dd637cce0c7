# What the things in a folder say of the study that is meant, and the first plan of it.

#' Propose a study from what lies in a folder
#'
#' @param folder A folder; it need not exist yet.
#' @return A list: `setting`, `arms` (the first is the baseline), `workload`, `command`, `metric` (of each a proposal),
#'   `logs` (from `group_names()`, or `NULL`), `table` (a table of scores, or results, as it is typed; or `NULL`),
#'   `seen` (a code for what was found, or `NULL`).
#' @noRd
propose_study <- function(folder) {
  out <- list(setting = "setting", arms = c("off", "on"), workload = "main", command = "", metric = "score")
  if (!dir.exists(folder)) {
    return(out)
  }
  logs <- tryCatch(grouped_logs(folder), honestmargin_error = function(e) NULL)
  arms <- unique(logs$arm)
  if (length(arms) > 1) {
    of <- logs_hold(logs)
    seen <- new_code("saw_logs", logs = nrow(logs), of = of, arms = arms_counted(logs$arm, arm_order(arms)))
    return(utils::modifyList(out, list(
      arms = arm_order(arms), workload = logs$workload[1], metric = if (of == "rates") "frame_rate_mean" else "fps_avg",
      logs = logs, seen = seen
    )))
  }
  table <- empty_to(proposed_results(folder), proposed_table(folder))
  if (!is.null(table)) {
    return(utils::modifyList(out, table))
  }
  program <- proposed_program(folder)
  if (!is.null(program)) {
    path <- paste0("./", program)
    out$command <- paste(as_typed(path), "{arm}")
    out$workload <- sub("[.][^.]*$", "", program)
    out$seen <- new_code("saw_program", program = program)
  }
  out
}

grouped_logs <- function(folder) {
  paired <- pair_logs(frame_logs(folder))
  structure(ordered_by_time(paired$found, NULL), findings = paired$findings)
}

# the first table that reads as scores of several arms
proposed_table <- function(folder) {
  files <- plain_files(folder, pattern = paste0("[.](csv|tsv|txt|xlsx|ods|", json_kinds, ")$"))
  for (path in files) {
    found <- proposed_readings(path)
    if (!is.null(found)) {
      return(c(found, list(table = path, seen = new_code("saw_table", file = basename(path), arms = found$arms))))
    }
  }
}

# results of passes, a file each
proposed_results <- function(folder) {
  files <- plain_files(folder, pattern = output_ending)
  files <- files[hold_results(files)]
  found <- if (length(files) > 1) proposed_readings(files)
  ending <- unique(sub("^.*(?=[.])", "", files, perl = TRUE))
  if (!is.null(found) && length(ending) == 1) {
    seen <- new_code("saw_results", n = length(files), arms = found$arms)
    c(found, list(table = file.path(folder, paste0("*", ending)), seen = seen))
  }
}

proposed_readings <- function(path) {
  readings <- tryCatch(
    read_readings(path, primary = character()),
    honestmargin_error = function(e) NULL
  )
  arms <- unique(readings$arm)
  if (length(arms) > 1) {
    list(arms = arm_order(arms), workload = readings$workload[1], metric = readings$metric[1], unit = readings$unit[1])
  }
}

proposed_program <- function(folder) {
  files <- plain_files(folder)
  may_run <- files[!dir.exists(files) & file.access(files, 1) == 0 & !grepl("[.](csv|txt|yml|log|gz|so)$", files)]
  if (length(may_run)) basename(may_run[1])
}

#' The text of a first plan, with what each key is for
#'
#' @param said A list: `setting`, `arms`, `workload`, `command` (empty: by hand), `metric`, `better`, `worth`, `blocks`
#'   (5 where it is not said).
#' @return Lines of YAML.
#' @noRd
first_plan <- function(said) {
  by_command <- nzchar(said$command)
  lines <- c(
    paste0("question: ", yaml_quoted(paste0("Does ", said$setting, " make a difference?"))), "", "setting:",
    paste0("  name: ", yaml_quoted(said$setting)),
    paste0("  baseline: ", yaml_quoted(said$arms[1]), "  # what the others are held against"),
    if (!grepl("{arm}", said$command, fixed = TRUE)) {
      "  by_hand: set it as you always do  # or command: what puts {arm} in place"
    },
    "  # unit: Hz          shown behind each value", "  # ordered: true     its values have an order",
    "  # restart: machine  what has to start anew for it to take", "arms:",
    paste0("  - value: ", yaml_quoted(said$arms)),
    "", "workloads:  # what runs, once in each pass", paste0("  - id: ", yaml_quoted(said$workload)),
    if (by_command) {
      c(
        paste0("    command: ", yaml_quoted(said$command), "  # {arm} stands for the value"),
        plan_source(said$metric)
      )
    }
  )
  c(
    lines, "", "metrics:  # what is judged", paste0("  - id: ", yaml_quoted(said$metric)),
    paste0("    worth: ", said$worth, "  # percent; what is smaller is not worth having"),
    paste0("    better: ", said$better), "    primary: true", "",
    sprintf("%-16s # rounds in which every arm runs once", paste("blocks:", empty_to(said$blocks, 5))),
    "warm_up: 1       # passes before them that do not count",
    "order: shuffled  # in each block, so that warming falls on all arms alike"
  )
}

#' How many blocks a first plan should have: as many as show its worth, from 5 to 20
#'
#' @param said As in `first_plan()`.
#' @return A list: `blocks`, `first` and `power` (rows of `plan_power()`, with 5 and with that many), `alternatives`
#'   (from `plan_alternatives()`).
#' @noRd
propose_blocks <- function(said) {
  folder <- tempfile("first-")
  on.exit(unlink(folder, recursive = TRUE))
  dir.create(folder)
  of <- function(blocks) {
    writeLines(first_plan(utils::modifyList(said, list(blocks = blocks))), file.path(folder, "study.yml"))
    plan_study(file.path(folder, "study.yml"))
  }
  first <- of(5)$power[1, ]
  blocks <- if (is.na(first$blocks_for_worth)) 5 else min(max(5, first$blocks_for_worth), 20)
  planned <- of(blocks)
  list(blocks = blocks, first = first, power = planned$power[1, ], alternatives = planned$alternatives)
}

# where the number comes from
plan_source <- function(metric) {
  if (metric %in% setdiff(captured_ids(), names(known_sensor_metrics()))) {
    return("    probe: true  # frames are noted inside the program; or frames: FILE, where it writes a log")
  }
  if (grepl("time|seconds|duration|zeit|dauer", tolower(metric))) {
    return(
      paste0("    scores: [{metric: ", yaml_quoted(metric), ", from: clock}]  # the seconds that the command took")
    )
  }
  paste0("    scores: [{metric: ", yaml_quoted(metric), ", pattern: \"([0-9.]+)\"}]  # the last number that it prints")
}

#' Write a first plan, and the logs that it is about as its passes
#'
#' All of it or nothing: the plan, without which a folder is no study, comes last.
#' @noRd
write_first_plan <- function(folder, said, logs = NULL) {
  lines <- first_plan(said)
  plan <- parse_plan(lines, "the plan")
  if (!dir.exists(folder) && !dir.create(folder, recursive = TRUE)) abort_stuck("cannot make this folder", folder)
  path <- file.path(folder, "study.yml")
  if (!is.null(logs)) {
    aside <- tempfile("start-", folder)
    on.exit(unlink(aside, recursive = TRUE))
    write_named_study(
      logs, plan_arms(plan), plan$setting$baseline, NULL, aside,
      keep = TRUE, findings = attr(logs, "findings")
    )
    for (name in setdiff(list.files(aside), "study.yml")) file.rename(file.path(aside, name), file.path(folder, name))
  }
  write_whole(path, function(to) writeLines(lines, to))
}
