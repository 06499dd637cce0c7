# Sensors of a study, and what they say about which part limited the passes.

#' Sensors of one pass
#'
#' @param study A study. @param pass Pass id.
#' @return Data frame `time_s` (of the pass) and sensor columns; `NULL` without any.
#' @noRd
study_sensors <- function(study, pass) {
  files <- unname(study$sensors[names(study$sensors) == pass])
  parts <- lapply(files, function(path) {
    if (grepl("[.]parquet$", path)) read_trace(path) else as.data.frame(read_sensors(path))
  })
  if (length(parts)) as.data.frame(data.table::rbindlist(parts, fill = TRUE))
}

sensor_columns_of <- function(path) {
  columns <- if (grepl("[.]parquet$", path)) names(nanoparquet::read_parquet(path)) else names(read_sensors(path))
  setdiff(columns, "time_s")
}

#' Which part limited the passes
#'
#' For each pass the sensors are looked at second by second; see the section on
#' rules. Frame times that pile up at a limit tell a limiter, which no sensor shows.
#'
#' @section Rules: the first that fits a second: `heat` (the counter of throttles
#'   rose, or the temperature is 90 C or more and within 3 degrees of its highest in
#'   the pass, and the clock under 95 % of its best), `power` (within 3 % of
#'   the power limit; for a processor with the clock under 97 % of its best), `graphics
#'   memory` (97 % in use), `graphics` (load 95 % or more), `processor` (all cores
#'   together 90 % or more), `one thread` (busiest core 90 % or more), else `none
#'   seen`, or `unknown` where the load of processor or graphics has no sensor. A
#'   pass is given the part that limits most of its seconds, if that is a third of them.
#' @param study A study from [read_study()].
#' @param by `"pass"`, or `"second"` for every second of the passes that have sensors.
#' @return A data frame, one row per counted pass that has frames or sensors: `pass`,
#'   `workload`, `arm`, `limiting`, `share` (percent of its seconds), `evidence`. By second:
#'   `pass`, `workload`, `arm`, `second`, `limiting` and the series that were looked at.
#' @export
#' @examples
#' head(limiting_table(read_study(demo_study())), 3)
limiting_table <- function(study, by = "pass") {
  checkmate::assert_class(study, "honestmargin_study")
  checkmate::assert_choice(by, c("pass", "second"))
  passes <- study$passes[ran_well(study$passes), , drop = FALSE]
  passes <- passes[passes$pass %in% c(names(study$traces), names(study$sensors)), , drop = FALSE]
  rows <- lapply(seq_len(nrow(passes)), function(i) limiting_rows(study, passes[i, ], by))
  as.data.frame(data.table::rbindlist(rows, fill = TRUE))
}

limiting_rows <- function(study, pass, by) {
  sensors <- study_sensors(study, pass$pass)
  series <- if (!is.null(sensors)) sensor_series(sensors)
  about <- as.list(pass[c("pass", "workload", "arm")])
  if (by == "second") {
    return(if (!is.null(series)) data.frame(about, limiting_by_second(series)))
  }
  ceilings <- study$ceilings
  here <- ceilings$workload == pass$workload & ceilings$arm == pass$arm & ceilings$context %in% pass$context
  held <- ceilings$limit_ms[here]
  data.frame(about, limiting_part(series, length(held) > 0, 1000 / empty_to(held, NA)[1]))
}

#' The limiting part of each arm, for tellers
#'
#' @return Data frame: `workload`, `arm`, `limiting` (with how many passes), `evidence` (of its
#'   first such pass); `NULL` where no pass says anything.
#' @noRd
limiting_by_arm <- function(study) {
  each <- limiting_table(study)
  if (!NROW(each) || all(each$limiting == "unknown")) {
    return(NULL)
  }
  key <- paste(each$workload, each$arm, sep = "\r")
  parts <- lapply(split(each, factor(key, unique(key))), function(p) {
    count <- sort(table(p$limiting), decreasing = TRUE)
    most <- names(count)[1]
    data.frame(
      p[1, c("workload", "arm")],
      limiting = most, passes = paste(count[[1]], "of", nrow(p)),
      evidence = p$evidence[p$limiting == most][1]
    )
  })
  out <- do.call(rbind, parts)
  out <- out[order(match(out$workload, unique(out$workload)), match(out$arm, plan_arms(study$plan))), , drop = FALSE]
  rownames(out) <- NULL
  out
}

part_words <- c(
  limiter = "the frame limiter", heat = "heat", power = "the power limit", `graphics memory` = "graphics memory",
  graphics = "the graphics part", processor = "the processor (all cores)",
  `one thread` = "one thread of the processor",
  `none seen` = "nothing that was seen", unknown = "what no sensor shows"
)

#' What limited the passes, as sentences by workload
#'
#' "limited by graphics at 125, 500 and 1000 Hz (graphics load 98 %); one thread at 2000 Hz (...)"
#' @param each From `limiting_by_arm()`.
#' @noRd
limiting_sentences <- function(each, told) {
  if (is.null(each)) {
    return(character())
  }
  arms <- split(each$arm, factor(each$workload, unique(each$workload)))
  everywhere <- function(same) length(same$arm) == length(arms[[same$workload[1]]])
  vapply(split(each, factor(each$workload, unique(each$workload))), function(rows) {
    said <- vapply(split(rows, factor(rows$limiting, unique(rows$limiting))), function(same) {
      paste0(
        part_words[[same$limiting[1]]],
        if (everywhere(same)) " in every arm" else paste(" at", arm_list(same$arm, told)), " (", same$evidence[1],
        ")"
      )
    }, "")
    paste0("limited by ", paste(said, collapse = "; "), ".")
  }, "")
}
