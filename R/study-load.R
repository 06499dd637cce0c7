# The object a user holds: plan, passes, readings, findings, ceilings, traces.

#' Read a study
#'
#' Reads a study folder: `study.yml` (the plan), `passes.csv` (one row per pass),
#' and `frames/<pass>.csv.gz` or `readings.csv`. Frame logs are summarised pass
#' by pass; a log that cannot be read becomes a finding and the others go on. A
#' folder that [run_study()] has worked in is read from its ledger.
#'
#' @param path Path of the study folder.
#' @param metrics List of further metrics, made with [new_metric()].
#' @param layout Layout of the frame logs, see [read_frames()]; `NULL`: the plan's
#'   `frames_layout`, else worked out from each log.
#' @param batch For a folder with a ledger: which batch (see [repeat_study()]);
#'   `NULL` for the first.
#' @return An object of class `honestmargin_study`, a list: `plan` (list),
#'   `passes` (data frame, one row per pass), `readings` (data frame, see
#'   [read_readings()]), `findings` (data frame), `ceilings` (data frame of arms
#'   held at a limit, or `NULL`), `traces`, `sensors` and `marks` (named character vectors, pass to file),
#'   `layout`, `folder`, `sealed` and `conditions` (for a ledger:
#'   when the plan was sealed and what was changed after; see [study_conditions()]).
#' @section Errors: `honestmargin_error_input` for a folder without a plan, a
#'   plan with unknown keys or wrong types (with line), and for passes listed
#'   twice or with unknown outcomes.
#' @export
#' @examples
#' study <- read_study(demo_study())
#' head(study$readings[, c("pass", "arm", "workload", "metric", "value")])
read_study <- function(path, metrics = list(), layout = NULL, batch = NULL) {
  checkmate::assert_string(path)
  parts <- if (has_ledger(path)) load_ledger(path, batch, metrics) else load_folder(path, metrics, layout)
  if (!NROW(parts$readings)) {
    todo <- if (has_ledger(path)) {
      paste(
        "run it: honestmargin run", path
      )
    } else {
      "put frame logs into frames/, or scores into passes.csv"
    }
    abort_input("no readings: neither frame logs nor scores", path, todo)
  }
  known <- c(plan_metrics(parts$plan, known_metrics(metrics)), metrics)
  readings <- complete_readings(parts$readings, known, source = path)
  ceilings <- ceilings_of(parts$passes, parts$piles)
  findings <- bind_findings(
    parts$findings, attr(readings, "findings"), ceiling_findings(ceilings), tail_findings(readings),
    empty_pass_findings(parts$passes, readings), missing_segments(parts$plan, parts$passes, readings),
    unplanned_findings(parts$plan, parts$passes),
    plan_findings(parts$plan), if (length(parts$sensors)) missing_sensors(sensor_columns_of(parts$sensors[[1]]))
  )
  structure(
    list(
      plan = parts$plan, passes = parts$passes, readings = readings, findings = findings, ceilings = ceilings,
      traces = parts$traces, sensors = parts$sensors, marks = parts$marks, layout = parts$layout, folder = path,
      sealed = parts$sealed,
      conditions = if (has_ledger(path)) study_conditions(path)
    ),
    class = "honestmargin_study"
  )
}

load_folder <- function(path, metrics, layout) {
  folder <- read_folder(path)
  if (!is.null(layout)) folder$layout <- layout
  captured <- Reduce(union, lapply(folder[c("traces", "sensors")], names))
  loaded <- lapply(captured, load_pass, folder = folder, metrics = metrics)
  part <- function(name) do.call(rbind, lapply(loaded, `[[`, name))
  folder$readings <- rbind(
    failed_too(folder$passes, with_pass_columns(folder$passes, part("readings"))),
    if (!is.null(folder$scores)) as.data.frame(folder$scores)[c(reading_columns, "scale")]
  )
  piles <- part("pile")
  parts <- part("segment_piles")
  if (!is.null(piles)) piles$place <- NA_character_
  if (!is.null(parts)) names(parts)[names(parts) == "workload"] <- "place"
  folder$piles <- rbind(piles, if (!is.null(parts)) parts[names(piles)])
  folder$findings <- bind_findings(
    do.call(bind_findings, lapply(loaded, `[[`, "findings")), attr(folder$scores, "findings")
  )
  folder
}

# readings by pass, workload and metric, with what else is known of the pass
with_pass_columns <- function(passes, readings) {
  if (is.null(readings)) {
    return(NULL)
  }
  at <- match(readings$pass, passes$pass)
  order <- order(at)
  readings <- take_rows(readings[c("pass", "workload", "metric", "value", "unit", "better")], order)
  known <- passes[setdiff(pass_columns, c("started", "note", "pass", "workload"))]
  list2DF(c(take_rows(known, at[order]), readings, list(scale = rep(NA_character_, nrow(readings)))))
}

ceilings_of <- function(passes, piles) {
  if (is.null(piles)) {
    return(NULL)
  }
  piles <- merge(passes[ran_well(passes), ], piles, by = "pass")
  if (!is.null(piles$place)) piles$workload <- ifelse(is.na(piles$place), piles$workload, piles$place)
  if (nrow(piles)) find_ceilings(piles)
}

load_pass <- function(pass, folder, metrics) {
  tryCatch(
    {
      has <- function(kind) pass %in% names(folder[[kind]])
      frames <- if (has("traces")) read_frames(folder$traces[[pass]], folder$layout)
      sensors <- if (has("sensors")) read_sensors(folder$sensors[[pass]])
      marks <- if (has("marks")) read_marks(folder$marks[[pass]])
      row <- folder$passes[folder$passes$pass == pass, ]
      about <- about_pass(folder$plan, row, list(
        frames = if (!is.null(frames)) list2DF(list(frame_time_ms = frames$frame_time_ms, start_s = frames$time_s)),
        marks = marks, sensors = sensors
      ), metrics)
      gaps <- about$frames$frame_time_ms[about$places$why_not == "gap"]
      c(pass_readings(about), list(findings = bind_findings(
        attr(frames, "findings"), attr(sensors, "findings"), gap_finding(pass, gaps)
      )))
    },
    honestmargin_error_input = function(e) {
      list(findings = new_finding("warning", "unreadable", paste0(
        "pass ", pass, " is not summarised: ", sub("\n.*", "", conditionMessage(e))
      ),
      empty_to(e$todo, ""),
      pass = pass
      ))
    }
  )
}

gap_finding <- function(pass, gaps) {
  if (length(gaps)) {
    new_finding("warning", "gap", paste0(
      "pass ", pass, ": ", show_number(sum(gaps) / 1000), " s without a frame do not count"
    ), "a hidden window or a loading screen is no frame; if it was a freeze, record outcome freeze",
    pass = pass
    )
  }
}

empty_pass_findings <- function(passes, readings) {
  silent <- setdiff(passes$pass[passes$outcome %in% c("ok", "artefact")], readings$pass[!is.na(readings$value)])
  do.call(bind_findings, lapply(silent, function(pass) {
    new_finding("warning", "empty", paste0(
      "pass ", pass, " is recorded as ok but has neither a frame log nor a score"
    ),
    "add its log, or record what happened in the column outcome",
    pass = pass
    )
  }))
}

unplanned_findings <- function(plan, passes) {
  bad <- setdiff(passes$arm, plan_arms(plan))
  workloads <- vapply(plan$workloads, `[[`, "", "id")
  new <- setdiff(sub("/.*", "", passes$workload), workloads)
  bind_findings(
    if (length(bad)) {
      new_finding(
        "warning", "unplanned", paste0("arm ", some_of(bad), " is not in the plan"),
        "add it to the plan, or mend passes.csv",
        arm = bad[1]
      )
    },
    if (length(new)) {
      new_finding(
        "warning", "unplanned", paste0("workload ", some_of(new), " is not in the plan"),
        "add it to the plan, or mend passes.csv",
        workload = new[1]
      )
    }
  )
}

#' Frame times of one pass of a study
#' @noRd
study_frames <- function(study, pass) {
  path <- study$traces[[pass]]
  if (grepl("[.]parquet$", path)) read_trace(path) else read_frames(path, study$layout)
}
