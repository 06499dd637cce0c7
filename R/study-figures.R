# The numbers behind the figures. Figures draw them and compute nothing.

figure_kinds <- c("change", "passes", "trace", "sensors")

#' The numbers behind a figure
#'
#' @param x A study or a readings table; for `of = "change"` also what [weigh()]
#'   returned.
#' @param of `"change"` (change of each arm with its interval), `"passes"` (every
#'   pass, and each arm's mean with the interval of its verdict carried over to
#'   the metric's unit), `"trace"` (frame times over time, one pass per arm) or
#'   `"sensors"` (loads, clocks, temperatures and power over time in those passes).
#' @param workload,metric Which workloads and metrics; `NULL` for all workloads
#'   and the primary metrics (for a trace the first workload that has one).
#' @param ... Passed to [weigh()]: `baseline`, `worth` and so on.
#' @return A data frame. `change`: rows of [weigh()] with `label`. `passes`: one
#'   row per pass and per mean, with `kind` (`pass` or `mean`), `value`, `lower`,
#'   `upper`, `state` (`counted`, `excluded`, or the outcome). `trace`: one row
#'   per slice of time and arm, with `time_s` and the fastest, median and slowest
#'   frame of the slice in ms. `sensors`: one row per slice of time, arm and series,
#'   with `label`, `value` and `unit`.
#' @section Errors: `honestmargin_error_input` for an unknown workload or metric,
#'   and where there is no trace to show.
#' @export
#' @examples
#' head(figure_data(read_study(demo_study()), "change")[, c("workload", "metric", "arm", "change")])
figure_data <- function(x, of = "change", workload = NULL, metric = NULL, ...) {
  checkmate::assert_choice(of, figure_kinds)
  if (of == "trace") {
    return(trace_data(x, workload, ...))
  }
  if (of == "sensors") {
    return(sensor_data(x, workload, ...))
  }
  verdicts <- if (inherits(x, "honestmargin_verdicts")) x else weigh(x, ...)
  chosen <- choose_rows(verdicts, workload, metric)
  if (of == "change") {
    return(chosen)
  }
  if (inherits(x, "honestmargin_verdicts")) {
    abort_input("verdicts hold no single passes", todo = "give the study or the readings instead")
  }
  passes_data(if (inherits(x, "honestmargin_study")) x$readings else complete_readings(x), chosen)
}

#' @noRd
choose_rows <- function(verdicts, workload, metric) {
  pick <- function(rows, column, wanted) {
    if (is.null(wanted)) {
      return(rows)
    }
    unknown <- setdiff(wanted, verdicts[[column]])
    if (length(unknown)) {
      abort_input(
        paste0("no ", column, " '", unknown[1], "'"),
        todo = did_you_mean(unknown[1], unique(verdicts[[column]]))
      )
    }
    rows[rows[[column]] %in% wanted, , drop = FALSE]
  }
  rows <- pick(pick(verdicts, "workload", workload), "metric", metric)
  if (is.null(metric) && any(rows$role == "primary")) rows <- rows[rows$role == "primary", , drop = FALSE]
  if (!nrow(rows)) {
    abort_input(
      "this workload does not have that metric",
      todo = "leave out --workload or --metric to see all there are"
    )
  }
  rows$label <- metric_labels(rows$metric, told_of(verdicts))
  structure(rows, told = told_of(verdicts))
}

passes_data <- function(readings, verdicts) {
  key <- function(d) paste(d$workload, d$context, d$metric, sep = "\r")
  shown <- readings[key(readings) %in% key(verdicts) & readings$role != "warm_up", , drop = FALSE]
  state <- ifelse(shown$role == "excluded", "excluded", ifelse(shown$outcome == "ok", "counted", shown$outcome))
  passes <- data.frame(shown[c("workload", "context", "metric", "unit", "arm", "pass", "block", "value")],
    kind = "pass", state = state, lower = NA_real_, upper = NA_real_
  )
  means <- do.call(rbind, lapply(split(verdicts, factor(key(verdicts), unique(key(verdicts)))), cell_means))
  out <- rbind(passes, means[names(passes)])
  out$label <- metric_labels(out$metric, told_of(verdicts))
  structure(out, told = told_of(verdicts), row.names = seq_len(nrow(out)))
}

# Each arm's interval is the one that decided its verdict, moved from the change
# to the metric's own unit; the baseline carries the worth band.
cell_means <- function(rows) {
  first <- rows[1, ]
  move <- function(base, change) if (first$scale == "percent") base * (1 + change / 100) else base + change
  arms <- data.frame(rows[c("workload", "context", "metric", "unit", "arm")],
    pass = NA_character_, block = NA_character_, value = rows$arm_value, kind = "mean", state = rows$verdict,
    lower = move(rows$baseline_value, rows$lower), upper = move(rows$baseline_value, rows$upper)
  )
  base <- mean(rows$baseline_value, na.rm = TRUE)
  baseline <- arms[1, ]
  baseline[c("arm", "state")] <- list(first$baseline, "baseline")
  baseline[c("value", "lower", "upper")] <- list(base, move(base, -first$worth), move(base, first$worth))
  rbind(baseline, arms)
}

trace_data <- function(x, workload, ..., slices = 600) {
  shown <- typical_passes(x, workload, "traces", "frame log")
  rows <- lapply(seq_len(nrow(shown)), function(i) {
    frames <- study_frames(x, shown$pass[i])
    cbind(shown[i, ], thin_trace(frames$frame_time_ms, slices), row.names = NULL)
  })
  structure(do.call(rbind, rows), told = told_by(x), segments = segment_starts(x, shown))
}

# where segments begin, on the clock of the frames
segment_starts <- function(x, shown) {
  shown <- shown[shown$pass %in% names(x$marks), , drop = FALSE]
  rows <- lapply(seq_len(nrow(shown)), function(i) {
    marks <- marks_on_frames(study_marks(x, shown$pass[i]), study_frames(x, shown$pass[i]))
    marks <- marks[marks$word == "segment" & nzchar(marks$value), , drop = FALSE]
    cbind(shown[rep(i, nrow(marks)), ], time_s = marks$time_s, segment = marks$value, row.names = NULL)
  })
  do.call(rbind, rows)
}

sensor_data <- function(x, workload, ..., slices = 240) {
  shown <- typical_passes(x, workload, "sensors", "sensor log")
  rows <- lapply(seq_len(nrow(shown)), function(i) {
    thin <- thin_series(sensor_series(study_sensors(x, shown$pass[i])), slices)
    cbind(shown[rep(i, nrow(thin)), ], thin, row.names = NULL)
  })
  structure(do.call(rbind, rows), told = told_by(x))
}

#' One pass per arm of a workload, of those that have a trace of a kind
#' @noRd
typical_passes <- function(x, workload, kind, what) {
  if (!inherits(x, "honestmargin_study") || !length(x[[kind]])) {
    abort_input(paste0("no ", what, "s to show"), todo = paste0("this needs a study whose passes have a ", what))
  }
  traced <- x$passes[x$passes$pass %in% names(x[[kind]]) & x$passes$role == "counted" & x$passes$outcome == "ok", ]
  workload <- empty_to(workload, traced$workload[1])[1]
  if (!workload %in% traced$workload) {
    abort_input(
      paste0("no ", what, " of workload '", workload, "'"),
      todo = did_you_mean(workload, unique(traced$workload))
    )
  }
  traced <- traced[traced$workload == workload, ]
  arms <- intersect(arm_order(traced$arm, plan_arms(x$plan)), traced$arm)
  pass <- vapply(arms, function(arm) typical_pass(x$readings, traced$pass[traced$arm == arm]), "")
  data.frame(workload = workload, arm = arms, pass = unname(pass))
}

# the pass in the middle of its arm: neither its best nor its worst
typical_pass <- function(readings, passes) {
  rows <- readings[readings$pass %in% passes & readings$metric == "fps_avg" & !is.na(readings$value), ]
  if (!nrow(rows)) {
    return(passes[1])
  }
  rows$pass[order(rows$value)][(nrow(rows) + 1) %/% 2]
}
