# Scores typed elsewhere: every pass of a table becomes a pass of the study.

#' Add the passes of a table
#'
#' All of them or none. A pass of the table takes the next scheduled pass of its arm, workload and block; `role`,
#' `outcome`, `reason` and `seconds` go with it, and the rows go in by their `order` where there is one.
#' @param x Study folder.
#' @param path What [read_readings()] takes: a table, a sheet, JSON, results of passes (several paths); units,
#' directions
#'   and the baseline of the plan are known.
#' @param columns,answer,sheet,names,better How it is read, as in [read_readings()].
#' @return A data frame: `pass`, `arm`, `workload`, `extra`, one row per pass. What was made of the table can be read
#'   with [findings()].
#' @section Errors: `honestmargin_error_input` for a table that was added before, and for an arm, workload or
#'   metric that the plan does not have; nothing is stored then.
#' @export
#' @examples
#' # honestmargin add STUDY --from scores.csv
add_passes <- function(x, path, columns = NULL, answer = NULL, sheet = NULL, names = NULL, better = NULL) {
  folder <- folder_of(x)
  plan <- read_plan(folder)
  store_table(folder, plan, path, read_for_plan(plan, path,
    columns = columns, answer = answer, sheet = sheet, names = names, better = better
  ))
}

#' A table read by what a plan knows of it: its metrics and its baseline
#' @param ... As in [read_readings()].
#' @noRd
read_for_plan <- function(plan, path, ...) {
  baseline <- plan$setting$baseline
  read_readings(path, ..., metrics = plan_metrics(plan), baseline = if (length(baseline)) show_exact(baseline, 15))
}

#' Readings as passes of a study: all of them or none
#' @param rows From `read_for_plan()`. @param path The files they were read from, so that each is taken once.
#' @noRd
store_table <- function(folder, plan, path, rows) {
  hash <- vapply(path, cli::hash_file_sha256, "", USE.NAMES = FALSE)
  if (has_ledger(folder) && any(hash %in% with_store(folder, store_taken)$hash)) {
    abort_input("was added before", path, "a table is added once; correct single numbers with honestmargin correct")
  }
  passes <- split_in_order(seq_len(nrow(rows)), rows$pass, rows$workload)
  passes <- lapply(passes, function(at) plain_table(rows)[at, , drop = FALSE])
  if (!anyNA(rows$order)) passes <- passes[order(vapply(passes, function(p) p$order[1], 1))]
  # everything is looked at before anything is stored
  calls <- lapply(passes, planned_call, plan = plan)
  with_store(folder, create = TRUE, code = function(store) store_seal(store, plan))
  added <- lapply(calls, function(call) {
    one <- do.call(add_pass, c(list(folder), call$pass))
    if (!is.na(call$reason)) exclude_pass(folder, one$pass, call$reason)
    one
  })
  with_store(folder, function(store) {
    for (i in seq_along(path)) store_note_taken(store, taken_row(path[i], added[[1]]$pass, hash[i]))
  })
  out <- stack_rows(added)
  # that nobody knows when the rows ran is said of the study
  told <- attr(rows, "findings")
  attr(out, "findings") <- told[told$code != "order_unknown", , drop = FALSE]
  out
}

planned_call <- function(p, plan) {
  known <- p[!is.na(p$value), , drop = FALSE]
  given <- function(column) if (!is.na(p[[column]][1])) p[[column]][1]
  workload <- if (p$workload[1] == "main" && !"main" %in% plan_workloads(plan)) NULL else p$workload[1]
  place <- added_place(plan, p$arm[1], workload, given("context"))
  values <- if (nrow(known)) stats::setNames(known$value, typed_name(known$segment, known$metric))
  if (length(values)) added_scores(plan, workload_of(plan, place$workload), values)
  if (!is.na(p$seconds[1])) values <- c(values, seconds = p$seconds[1])
  excluded <- p$role[1] == "excluded"
  list(
    reason = if (excluded) p$reason[1] else NA_character_,
    pass = list(
      arm = place$arm, workload = place$workload, context = given("context"), block = given("block"), values = values,
      outcome = p$outcome[1], role = if (excluded) "counted" else p$role[1]
    )
  )
}
