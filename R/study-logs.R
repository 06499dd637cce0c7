# A folder of frame logs without a plan: what their names say becomes a study.

#' Read frame logs as a study, by their names
#'
#' Groups logs by what varies in their names (or in the sub-folders they lie in): arm, workload and number of the pass.
#' The order in which they ran is taken from the times of the files where these can be believed: all different, in steps
#' at least as long as half a log, so that they were not merely copied. A log that is called a warm-up is left out, one
#' called a crash, a freeze or a timeout is a failure of its arm, one called bad or invalid is excluded; all is told.
#'
#' @param x A folder, or paths of logs.
#' @param ... Not used.
#' @param names How the names are built, where it cannot be worked out: `"{arm}_run{pass}.csv"`, with `{workload}` and
#'   `{any}` besides.
#' @param baseline Which arm is the baseline; `NULL`: of two arms the first by name; `NA` where nothing is compared.
#' @param layout As in [read_frames()].
#' @param score Where the files hold what a program printed, and one number of it counts: a regular expression with one
#'   group, named after the metric, `c(score = "Total: ([0-9.]+)")`; its last hit counts.
#' @param better Which direction of that metric is better, where its name does not tell: `"higher"` or `"lower"`.
#' @param save Folder to keep it in as a plain study folder; `NULL`: not kept.
#' @return A study, see [read_study()]; its findings say what was made of the names and of the times. A sensor log
#'   beside each log of frames goes with its pass.
#' @section Errors: `honestmargin_error_needed` where names differ in more than one way, or of three arms and more none
#'   is named as the baseline, or nobody knows which direction is better; `honestmargin_error_input` where there is no
#'   log, or no number in one.
#' @export
#' @examples
#' folder <- tempfile("logs-")
#' dir.create(folder)
#' for (arm in c("off", "on")) for (run in 1:3) {
#'   frames <- simulate_frames(20, mean_ms = if (arm == "on") 8 else 8.5, seed = run)
#'   writeLines(format(frames), file.path(folder, paste0(arm, "_run", run, ".csv")))
#' }
#' weigh(read_logs(folder), worth = 2)[, c("metric", "arm", "change", "verdict")]
read_logs <- function(x, ..., names = NULL, baseline = NULL, layout = NULL, score = NULL, better = NULL, save = NULL) {
  assert_no_dots(...)
  checkmate::assert_character(x, min.len = 1, any.missing = FALSE)
  checkmate::assert_string(score, null.ok = TRUE)
  checkmate::assert_choice(better, c("higher", "lower"), null.ok = TRUE)
  any_baseline <- isTRUE(is.na(baseline))
  if (any_baseline) baseline <- NULL
  logs <- if (is.null(score)) frame_logs(x, layout) else find_named_logs(x, output_ending)
  paired <- pair_logs(logs, names, baseline)
  found <- paired$found
  arms <- arm_order(found$arm)
  baseline <- if (any_baseline) arms[1] else logs_baseline(baseline, arms)
  printed <- if (!is.null(score)) printed_numbers(found$path, score, empty_to(found$outcome, "ok") == "ok")
  found$value <- printed$value
  found <- ordered_by_time(found, layout)
  folder <- empty_to(save, tempfile("logs-"))
  if (length(list.files(folder))) abort_stuck("this folder is not empty", folder, "name a new one")
  judged <- if (!is.null(score)) score_judged(base::names(score), better) else logs_judged(found)
  write_named_study(
    found, arms, baseline, layout, folder, !is.null(save), judged,
    bind_findings(printed$findings, paired$findings)
  )
  read_study(folder)
}

# what holds frames, and the sensor logs beside it
frame_logs <- function(x, layout = NULL) {
  logs <- set_sensors_aside(leave_results(find_named_logs(x)), layout)
  # files that were named are meant
  if (length(x) == 1) leave_strays(logs, layout) else logs
}

#' Logs by their names, with the sensor logs of each
#' @return A list: `found` (from `group_said()`, with `path`, `sensors`), `findings`.
#' @noRd
pair_logs <- function(logs, names = NULL, baseline = NULL) {
  warm <- warm_ups_among(logs$name)
  found <- group_said(logs$name[!warm], names, baseline)
  found$path <- logs$path[!warm]
  sensors <- logs$sensors
  if (any(warm) && !is.null(sensors)) sensors <- sensors[!says_warm_up(sensors$name), , drop = FALSE]
  paired <- if (NROW(sensors)) pair_sensor_logs(found, sensors) else list(found = found)
  beside <- sum(!is.na(paired$found$sensors))
  list(found = paired$found, findings = bind_findings(
    if (length(logs$results)) new_finding("note", "results_beside", files = logs$results),
    if (length(logs$strays)) new_finding("warning", "stray_files", files = logs$strays),
    if (length(paired$strays)) new_finding("warning", "stray_sensors", files = paired$strays),
    if (beside) new_finding("note", "sensors_beside", n = beside),
    findings_of_said(found),
    if (any(warm)) warm_ups_left("log", logs$name[warm])
  ))
}

find_named_logs <- function(x, ending = log_ending) {
  if (length(x) == 1 && dir.exists(x)) {
    name <- plain_files(x, pattern = ending, recursive = TRUE, full.names = FALSE)
    if (!length(name)) {
      abort_input(
        "no log in this folder, and no plan", x, "name a folder with study.yml, or with logs (.csv, .txt, .gz)"
      )
    }
    return(list(name = name, path = file.path(x, name)))
  }
  gone <- x[!file.exists(x)]
  if (length(gone)) abort_input("no such file", gone[1], "check the name")
  list(name = names_apart(x), path = x)
}

logs_baseline <- function(baseline, arms) {
  if (is.null(baseline)) {
    if (length(arms) > 2) {
      abort_needed("which arm is the baseline?", todo = paste0("give --baseline: ", some_of(arms, 12)))
    }
    return(arms[1])
  }
  at <- named_by(baseline, arms)
  if (!at) abort_input(paste0("baseline '", baseline, "' is none of the arms"), todo = did_you_mean(baseline, arms))
  arms[at]
}

# seconds from rate to rate, `NA` where these are logs of frames
seconds_apart <- function(paths, layout) {
  every <- rep(NA_real_, length(paths))
  if (!is.null(layout)) {
    return(every)
  }
  # mostly the first tells that none is of rates
  for (i in seq_along(paths)) {
    apart <- sampled_log(paths[i])
    if (!isTRUE(apart$rate)) {
      return(rep(NA_real_, length(paths)))
    }
    every[i] <- apart$every
  }
  every
}

# what is in them: what a program printed, a rate every so often, or frames
logs_hold <- function(found) {
  if (!is.null(found$value)) "output" else if (!anyNA(found$every)) "rates" else "frames"
}

# order and rounds, where the times of the files can be believed
ordered_by_time <- function(found, layout) {
  found$every <- if (is.null(found$value)) seconds_apart(found$path, layout) else NA_real_
  length <- switch(logs_hold(found),
    output = seconds_of_output,
    rates = seconds_of_rows(found$path),
    frames = seconds_of_frames(found$path, layout)
  )
  turns_by_time(found, file.mtime(found$path), length)
}

# how long each log is, `NA` for one that cannot be read
seconds_of_frames <- function(paths, layout) {
  frames <- on_all_cores(paths, worth_it = length(paths) > 40, function(p) {
    tryCatch(read_frames(p, layout)$frame_time_ms, honestmargin_error = identity)
  })
  broken <- vapply(frames, inherits, NA, "honestmargin_error")
  if (all(broken)) abort_no_frames(frames[[1]])
  frames[broken] <- list(NULL)
  # a few numbers are scores in a table, and frames of nothing
  if (all(lengths(frames) < 50)) {
    abort_input(
      "no frame log among these: none holds 50 frames or more", paths[!broken][1],
      "a table of scores is weighed by itself: honestmargin weigh FILE"
    )
  }
  vapply(frames, function(f) if (is.null(f)) NA_real_ else sum(f) / 1000, 1)
}

# text without columns is mostly what a program printed
abort_no_frames <- function(error) {
  abort_input(error$what, error$where, paste(c(
    error$todo, if (error$no_table) "where each holds a number that a program printed: --score 'fps=Average: ([0-9.]+)'"
  ), collapse = "; "))
}

seconds_of_rows <- function(paths) vapply(paths, function(p) diff(range(read_sensors(p)$time_s)), 1)
