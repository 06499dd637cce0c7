# From a store to a study.

#' Read a study
#'
#' Reads a study folder: `study.yml` (the plan), `passes.csv` (one row per pass),
#' and `frames/<pass>.csv.gz` or `readings.csv`. Frame logs are summarised pass
#' by pass; a log that cannot be read becomes a finding and the others go on. A
#' folder that [run_study()] has worked in is read from its ledger.
#'
#' @param x Path of the study folder.
#' @param ... Not used.
#' @param metrics List of further metrics, made with [new_metric()].
#' @param layout Layout of the frame logs, see [read_frames()]; `NULL`: the plan's
#'   `frames_layout`, else worked out from each log.
#' @param batch For a folder with a ledger: which batch (see [repeat_study()]);
#'   `NULL` for the first.
#' @return An object of class `honestmargin_study`, a list: `plan` (list),
#'   `passes` (data frame, one row per pass, or per flip of a toggled one), `readings` (data frame, see
#'   [read_readings()]), `findings` (codes; see [findings()]), `ceilings` (data frame of arms
#'   held at a limit, or `NULL`), `traces` (data frame `pass`, `kind`), `folder`, `sealed` and
#'   `conditions` (for a ledger: when the plan was sealed and what was changed after; see
#'   [study_conditions()]).
#' @section Errors: `honestmargin_error_input` for a folder without a plan, a
#'   plan with unknown keys or wrong types (with line), and for passes listed
#'   twice or with unknown outcomes.
#' @export
#' @examples
#' study <- read_study(demo_study())
#' head(study$readings[, c("pass", "arm", "workload", "metric", "value")])
read_study <- function(x, ..., metrics = list(), layout = NULL, batch = NULL) {
  assert_no_dots(...)
  checkmate::assert_string(x)
  with_store(x, write = FALSE, code = function(store) {
    if (!is.null(layout)) store$layout <- layout
    load_study(store, metrics, batch)
  })
}

load_study <- function(store, metrics, batch) {
  plan <- store_plan(store, batch)
  passes <- store_passes(store, batch)
  passes$arm <- arms_as_planned(passes$arm, plan)
  search <- if (is_search(plan)) load_search(store, batch)
  if (!is.null(search)) {
    # until it compares, what it tried is all there is
    if (any(passes$role == "counted")) passes <- passes[!passes$role %in% search_roles, , drop = FALSE]
    plan <- compared_plan(plan, passes$arm)
  }
  captured <- store_summaries(store, plan, passes, metrics)
  typed <- store_typed(store, plan, passes)
  record <- store_record(store, batch)
  passes <- passes_with_parts(passes, captured$parts, plan)
  rows <- join_readings(passes, captured$readings, typed)
  if (!NROW(rows) && is.null(search) && !ended_otherwise(passes, plan)) abort_no_readings(store)
  readings <- if (NROW(rows)) {
    complete_readings(failed_too(passes, rows), c(plan_metrics(plan, known_metrics(metrics)), metrics),
      source = store$folder
    )
  } else {
    no_readings()
  }
  ceilings <- ceilings_of(passes, captured$piles)
  traces <- empty_to(store_traces(store), data.frame(pass = character(), kind = character()))
  conditions <- conditions_of(passes, record)
  found <- run_checks("study", list(
    plan = plan, passes = passes, readings = readings, ceilings = ceilings, limits = captured$limits,
    conditions = conditions, pace = captured$pace,
    sensors = seen_sensors(store, passes, traces),
    # of an export, what was seen while its passes ran stands in its record
    captured = bind_findings(captured$findings, record$findings)
  ))
  copies <- copies_found(passes, found)
  study <- new_study(
    plan, copies_aside(passes, copies), copies_aside(readings, copies),
    bind_findings(captured$findings, attr(readings, "findings"), found, record$findings, run_checks("plan", plan)),
    ceilings, captured$limits, traces, store, record$sealed, shown_conditions(conditions),
    machine_facts(record$snapshots), search, captured$pace
  )
  study$blind <- record$blind
  study
}

# where nothing gave a number, how the passes ended must be what is asked, or something must have failed
ended_otherwise <- function(passes, plan) {
  any(tried(passes)) && (any(fell(passes)) || any(vapply(plan$workloads, judged_by_outcome, NA, plan = plan)))
}

#' Refuse to weigh a search that has compared nothing yet
#' @noRd
assert_compares <- function(x) {
  if (is_study(x) && !is.null(x$search) && !any(x$passes$role == "counted")) {
    abort_input(
      "this study looks for a value, and compares nothing yet", x$folder,
      paste("see how far it is: honestmargin search", x$folder)
    )
  }
}

abort_no_readings <- function(store) {
  abort_input(
    "no readings: neither frame logs nor scores", store$folder,
    if (inherits(store, "honestmargin_folder")) {
      "put frame logs into frames/, or scores into passes.csv"
    } else {
      paste("run it: honestmargin run", store$folder)
    }
  )
}

# A toggled pass stands for itself only until it is cut into its flips: each of
# them is a pass, in a block of its own with the other flips of its round.
passes_with_parts <- function(passes, parts, plan) {
  said <- passes[!is.na(passes$part), , drop = FALSE]
  whole <- passes[is.na(passes$part), , drop = FALSE]
  # flips of an export whose marks are gone stand in its list
  listed <- said[!said$pass %in% parts$pass & said$pass %in% listed_flips(said, whole), , drop = FALSE]
  if (!NROW(parts) && !nrow(listed)) {
    return(whole)
  }
  cut <- if (NROW(parts)) cut_into_flips(whole, parts, said)
  in_turn(rbind(whole[!whole$pass %in% c(cut$pass, listed$pass), , drop = FALSE], cut, listed), whole)
}

cut_into_flips <- function(whole, parts, said) {
  cut <- whole[match(parts$pass, whole$pass), , drop = FALSE]
  cut[c("part", "arm", "seconds")] <- parts[c("part", "arm", "seconds")]
  cut$block <- paste0(cut$block, ".", parts$round)
  last <- match(paste(cut$pass, cut$part), paste(said$pass, said$part))
  cut[!is.na(last), c("role", "reason", "outcome")] <- said[last[!is.na(last)], c("role", "reason", "outcome")]
  cut
}

# passes that were not flipped have no part of another arm
listed_flips <- function(said, whole) {
  unique(said$pass[said$arm != whole$arm[match(said$pass, whole$pass)]])
}

in_turn <- function(out, whole) {
  out <- out[order(match(out$pass, whole$pass), out$part), , drop = FALSE]
  # its flips come one after the other, so all that follows moves on
  if (!anyNA(out$order)) out$order <- as.numeric(seq_len(nrow(out)))
  rownames(out) <- NULL
  out
}

#' Passes that gave no number keep a row in every metric of their workload
#' @noRd
failed_too <- function(passes, readings) {
  silent <- passes[!pass_key(passes) %in% pass_key(readings)[!is.na(readings$value)], , drop = FALSE]
  kinds <- readings[!duplicated(joint_code(readings$workload, readings$segment, readings$metric)), ]
  rows <- merge(
    silent[c("pass", "part", of_pass)], kinds[c("workload", "segment", "metric", "unit", "better")],
    by = "workload"
  )
  key <- function(rows) paste(pass_key(rows), rows$segment, rows$metric, sep = "\r")
  rows <- rows[!key(rows) %in% key(readings), , drop = FALSE]
  stack_rows(list(readings, rows[order(match(rows$pass, silent$pass)), ]))
}

ceilings_of <- function(passes, piles) {
  if (!NROW(piles)) {
    return(NULL)
  }
  piles <- with_columns(piles, c("part", "segment"))
  at <- match(paste(piles$pass, piles$part), paste(passes$pass, passes$part))
  good <- !is.na(at) & ran_well(passes)[at]
  rows <- cbind(passes[at[good], c("workload", "context", "arm", "pass")], piles[good, setdiff(names(piles), "pass")])
  if (nrow(rows)) find_ceilings(rows)
}

# of the first pass that has any
seen_sensors <- function(store, passes, traces) {
  with <- passes$pass %in% traces$pass[traces$kind == "sensors"]
  if (any(with)) setdiff(names(store_capture(store, passes[which(with)[1], ], "sensors")$sensors), "time_s")
}

# what the first snapshot says of the machine, where all snapshots agree on which it was
machine_facts <- function(snapshots) {
  host <- unique(snapshots$value[snapshots$key == "host"])
  if (length(host) == 1) {
    first <- snapshots[!duplicated(snapshots$key), , drop = FALSE]
    stats::setNames(first$value, first$key)
  }
}

shown_conditions <- function(found) found[c("condition", "seen", "values")]

conditions_of <- function(passes, record, all = FALSE) {
  if (is.null(record$snapshots)) {
    return(NULL)
  }
  begun <- record$begun[record$begun$pass %in% passes$pass, , drop = FALSE]
  whole <- passes[match(begun$pass, passes$pass), c("pass", "arm")]
  whole$order <- seq_len(nrow(whole))
  find_differences(record$snapshots, whole, all)
}
