# Sensors of a study, and what they say about which part limited the passes.

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
#' @param x A study from [read_study()], or what [weigh()] made of one.
#' @param ... Not used.
#' @param by `"pass"`, or `"second"` for every second of the passes that have sensors.
#' @return A data frame, one row per counted pass that has frames or sensors: `pass`,
#'   `workload`, `context`, `arm`, `limiting`, `share` (percent of its seconds), `evidence`. By second:
#'   `pass`, `workload`, `context`, `arm`, `second`, `limiting` and the series that were looked at.
#' @export
#' @examples
#' head(limiting_table(read_study(demo_study())), 3)
limiting_table <- function(x, ..., by = "pass") {
  assert_no_dots(...)
  checkmate::assert_choice(by, c("pass", "second"))
  rows <- limiting_rows(x, by)
  if (by == "pass") rows$evidence <- format(new_codes(lapply(rows$evidence, list)))
  rows
}

# the evidence is a code; the words for it are made by those who tell it
limiting_rows <- function(x, by = "pass") {
  study <- what_was_weighed(x)
  checkmate::assert_class(study, "honestmargin_study", .var.name = "x")
  passes <- study$passes[ran_well(study$passes), , drop = FALSE]
  passes <- passes[has_trace(study, passes, "frames") | has_trace(study, passes, "sensors"), , drop = FALSE]
  stack_rows(lapply(seq_len(nrow(passes)), function(i) limiting_of_pass(study, passes[i, ], by)))
}

limiting_of_pass <- function(study, pass, by) {
  about <- as.list(pass[c("pass", "part", "workload", "context", "arm")])
  stored <- study$limits$pass == pass$pass & study$limits$part %in% pass$part
  # ledgers of before have not stored it
  series <- if ((by == "second" || !any(stored)) && has_trace(study, pass, "sensors")) {
    sensors <- study_capture(study, pass, "sensors")$sensors
    if (!is.null(sensors)) sensor_series(sensors)
  }
  if (by == "second") {
    rows <- if (!is.null(series)) limiting_by_second(series)
    return(if (!is.null(rows)) list2DF(c(lapply(about, rep, nrow(rows)), rows)))
  }
  ceilings <- study$ceilings
  held <- ceilings$limit_ms[ceilings$workload == pass$workload & is.na(ceilings$segment) & ceilings$arm == pass$arm &
    ceilings$context %in% pass$context]
  row <- if (length(held)) {
    limited_by_frames(1000 / held[1])
  } else if (any(stored)) {
    take_rows(study$limits[c("limiting", "share", "evidence")], which(stored)[1])
  } else {
    limiting_part(series)
  }
  list2DF(c(about, row))
}

#' The limiting part of each arm, for tellers
#'
#' @return Data frame: `workload`, `context`, `arm`, `limiting`, `passes` (with how many passes), `evidence` (of its
#'   first such pass, a code); `NULL` where no pass says anything.
#' @noRd
limiting_by_arm <- function(study) {
  each <- limiting_rows(study)
  if (!NROW(each) || all(each$limiting == "unknown")) {
    return(NULL)
  }
  out <- stack_rows(lapply(split_in_order(seq_len(nrow(each)), each$workload, each$context, each$arm), function(at) {
    count <- sort(table(each$limiting[at]), decreasing = TRUE)
    most <- names(count)[1]
    list2DF(list(
      workload = each$workload[at[1]], context = each$context[at[1]], arm = each$arm[at[1]], limiting = most,
      passes = paste(count[[1]], "of", length(at)), evidence = each$evidence[at][match(most, each$limiting[at])]
    ))
  }))
  places <- place_names(out)
  out[order(match(places, unique(places)), match(out$arm, plan_arms(study$plan))), , drop = FALSE]
}
