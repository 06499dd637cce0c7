# Weighing: from readings, or from a study with its plan, to verdicts.

#' Weigh arms against a baseline
#'
#' Answers for every workload and metric whether an arm differs from the
#' baseline by more than the passes differ among themselves. The design is
#' recognised from the passes (blocks, one session, boots, one stint per arm, one
#' reading each), the pass or the boot is the unit, and the intervals hold for
#' the whole family of primary comparisons (Sidak).
#'
#' @param x A readings table (see [read_readings()]; a plain data frame with
#'   `arm` and `value` will do), or a study from [read_study()].
#' @param baseline The arm that the others are compared with. A study's plan
#'   names it; otherwise it must be given.
#' @param worth Smallest change worth having: one number, or named by metric
#'   (`c(fps_avg = 2, low1_mean = 5)`); in percent, or in the metric's unit for
#'   metrics told as differences. One number alone is for the metrics told in
#'   percent. `NULL`: the plan's, or none.
#' @param ... Not used.
#' @param primary Metrics whose comparisons form the family; the others are
#'   exploratory. `NULL`: the plan's, or all.
#' @param confidence Confidence over the family, default the plan's or 0.95.
#' @param steady `TRUE` when you declare that nothing but the setting changed
#'   over the session; lets one stint per arm be weighed, with a straight drift
#'   taken out. It is told in `reason`.
#' @param noise Noise known from the same machine: a data frame with `workload`,
#'   `metric`, `noise` (standard deviation of one pass, in percent or the
#'   metric's unit), `df`, `source`. Used where an arm has one pass.
#' @param include_excluded `TRUE` weighs excluded passes as if they counted.
#' @param ignore_ceiling `TRUE` when you know that no limiter held the passes.
#' @return A data frame of class `honestmargin_verdicts`, one row per workload,
#'   context, metric and arm other than the baseline. Columns: `workload`,
#'   `context`, `metric`, `unit`, `better`, `arm`, `baseline`, `n_arm`,
#'   `n_baseline` (passes), `baseline_value`, `arm_value` (geometric means on the
#'   percent scale, else means), `scale`, `change`, `lower`, `upper`,
#'   `confidence`, `differs`, `verdict`, `reason`, `worth`, `ruled_out`, `noise`
#'   (standard deviation of one unit within an arm), `detectable` (found with
#'   80 % power), `more_passes` (further units per arm), `p_value`, `p_adjusted`,
#'   `unit_of_replication`, `family_size`, `role`. Changes are arm against
#'   baseline, never flipped. Findings are in the attribute `findings`.
#' @section Errors: `honestmargin_error_needed` when no baseline is known,
#'   `honestmargin_error_input` for an unknown baseline or metric.
#' @references Welch (1947), Biometrika 34, 28-35; Satterthwaite (1946),
#'   Biometrics Bulletin 2, 110-114; Sidak (1967), Journal of the American
#'   Statistical Association 62, 626-633.
#' @export
#' @examples
#' passes <- data.frame(
#'   arm = rep(c("off", "on"), 5), block = rep(1:5, each = 2),
#'   value = c(100, 104, 101, 105, 99, 104, 100, 103, 102, 106)
#' )
#' weigh(passes, baseline = "off", worth = 2)
weigh <- function(x, baseline = NULL, worth = NULL, ..., primary = NULL, confidence = NULL,
                  steady = FALSE, noise = NULL, include_excluded = FALSE, ignore_ceiling = FALSE) {
  if (!is.list(x)) {
    abort_input(
      "weigh() takes a readings table or a study",
      todo = "read the file first: weigh(read_readings(path)) or weigh(read_study(path))"
    )
  }
  checkmate::assert_flag(steady)
  study <- if (inherits(x, "honestmargin_study")) x
  plan <- study$plan
  readings <- if (is.null(plan)) complete_readings(x) else x$readings
  if (include_excluded) readings$role[readings$role == "excluded"] <- "counted"
  baseline <- as.character(empty_to(baseline, plan$setting$baseline))
  check_baseline(baseline, readings, plan)
  readings <- rescale_nonpositive(readings)
  how <- list(
    baseline = baseline, arms = arm_order(c(readings$arm, plan_arms(plan)), plan_arms(plan)),
    worth = worth_by_metric(worth, plan_worth(plan), readings), steady = steady, stored = noise,
    confidence = empty_to(confidence, empty_to(plan$confidence, 0.95)),
    primary = check_metrics(primary, readings, "primary", plan_primary(plan)),
    ceilings = if (!ignore_ceiling) study$ceilings,
    anchors = plan_anchors(plan), segments = plan_segments(plan),
    beside = if (!is.null(plan)) sensor_metric_ids
  )
  checkmate::assert_number(how$confidence, lower = 0.5, upper = 0.9999)
  weighed <- weigh_cells(readings, how)
  structure(weighed$verdicts,
    class = c("honestmargin_verdicts", "data.frame"),
    findings = bind_findings(
      weighed$findings, hidden_parts(weighed$verdicts, plan$metrics), study$findings, attr(readings, "findings")
    ),
    told = told_by(x)
  )
}

check_baseline <- function(baseline, readings, plan) {
  arms <- arm_order(c(readings$arm, plan_arms(plan)), plan_arms(plan))
  if (!length(baseline)) {
    abort_needed(
      "which arm is the baseline?",
      todo = paste0("give --baseline (in R: baseline =); the arms are ", some_of(arms, 12))
    )
  }
  if (!baseline %in% arms) {
    abort_input(paste0("baseline '", baseline, "' is none of the arms"), todo = did_you_mean(baseline, arms))
  }
  if (length(arms) < 2) {
    abort_input(
      "one arm only",
      todo = "a comparison needs the baseline and at least one other arm"
    )
  }
  if (!any(readings$better != "none")) {
    abort_needed(
      "no metric with a direction",
      todo = "say which direction is better, in a column better or with --better"
    )
  }
}

check_metrics <- function(ids, readings, word, default = NULL) {
  unknown <- setdiff(ids, readings$metric)
  if (length(unknown)) {
    abort_input(
      paste0(word, " names '", unknown[1], "', which is no metric here"),
      todo = did_you_mean(unknown[1], unique(readings$metric))
    )
  }
  if (is.null(ids)) default else ids
}

# One number alone is a percentage, as testers say it; it reaches metrics told
# in their own unit only where there are no others.
worth_by_metric <- function(worth, planned, readings) {
  if (is.null(worth)) {
    return(planned)
  }
  checkmate::assert_numeric(worth, lower = 0, finite = TRUE, any.missing = FALSE, min.len = 1)
  if (is.null(names(worth))) {
    checkmate::assert_number(worth)
    percent <- unique(readings$metric[readings$scale == "percent"])
    ids <- if (length(percent)) percent else unique(readings$metric)
    worth <- stats::setNames(rep(worth, length(ids)), ids)
  }
  check_metrics(names(worth), readings, "worth")
  c(worth, planned[setdiff(names(planned), names(worth))])
}

# Logarithms need positive values. A rate of 0 is no measurement; a metric of
# the tester's own is then told as a difference, and that is said.
rescale_nonpositive <- function(readings) {
  low <- is_counted(readings) & readings$scale == "percent" & readings$value <= 0
  for (id in unique(readings$metric[low])) {
    at <- which(low & readings$metric == id)[1]
    if (id %in% setdiff(names(by_id(c(frame_metrics(), list(score_metric())))), metrics_at_zero)) {
      abort_input(
        paste0(
          "'", id, "' is ", readings$value[at], " in pass ", readings$pass[at],
          "; it must be above 0 to be told in percent"
        ),
        todo = "record what happened to that pass in the column outcome, or exclude it with a reason"
      )
    }
    readings$scale[readings$metric == id] <- "absolute"
    attr(readings, "findings") <- bind_findings(attr(readings, "findings"), new_finding("warning", "scale",
      paste0(
        "'", id,
        "' has values at or below 0, so its changes are told as differences in its unit, and worth is read so too"
      ),
      "name its worth in that unit",
      metric = id
    ))
  }
  readings
}

#' How the passes ended, by arm
#'
#' @param x A study or a readings table.
#' @return A data frame, one row per workload and arm: `workload`, `arm`,
#'   `passes`, then one column per outcome that occurred, and `warm_up` and
#'   `excluded` passes.
#' @export
#' @examples
#' outcome_table(read_study(demo_study()))
outcome_table <- function(x) {
  study <- inherits(x, "honestmargin_study")
  passes <- if (study) {
    x$passes
  } else {
    unique(as.data.frame(complete_readings(x))[c(
      "pass", "workload", "arm", "outcome", "role"
    )])
  }
  count_outcomes(passes, if (study) plan_arms(x$plan))
}
