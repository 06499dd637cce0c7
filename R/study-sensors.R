# Sensors of a study: read, added from logs of other programs, and what they say
# about which part limited the passes.

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

#' Which part limited the passes
#'
#' For each pass the sensors are looked at second by second; see the section on
#' rules. Frame times that pile up at a limit tell a limiter, which no sensor shows.
#'
#' @section Rules: the first that fits a second: `heat` (the counter of throttles
#'   rose, or the highest temperature of the pass is 90 C or more, this second
#'   within 3 degrees of it, and the clock under 95 % of its best), `power` (within 3 % of
#'   the power limit; for a processor with the clock under 97 % of its best), `graphics
#'   memory` (97 % in use), `graphics` (load 95 % or more), `processor` (all cores
#'   together 90 % or more), `one thread` (busiest core 90 % or more), else `none
#'   seen`, or `unknown` where the load of processor or graphics has no sensor. A
#'   pass is given the part that limits most of its seconds, if that is a third of them.
#' @param study A study from [read_study()].
#' @return A data frame, one row per counted pass that has frames or sensors: `pass`,
#'   `workload`, `arm`, `limiting`, `share` (percent of its seconds), `evidence`.
#' @export
#' @examples
#' head(limiting_table(read_study(demo_study())), 3)
limiting_table <- function(study) {
  checkmate::assert_class(study, "honestmargin_study")
  passes <- study$passes[study$passes$role == "counted" & study$passes$outcome %in% c("ok", "artefact"), , drop = FALSE]
  passes <- passes[passes$pass %in% c(names(study$traces), names(study$sensors)), , drop = FALSE]
  rows <- lapply(seq_len(nrow(passes)), function(i) {
    p <- passes[i, ]
    held <- study$ceilings$limit_ms[study$ceilings$workload == p$workload & study$ceilings$arm == p$arm]
    sensors <- study_sensors(study, p$pass)
    cbind(
      p[c("pass", "workload", "arm")],
      limiting_part(if (!is.null(sensors)) sensor_series(sensors), length(held) > 0, 1000 / empty_to(held, NA)[1])
    )
  })
  out <- do.call(rbind, rows)
  rownames(out) <- NULL
  out
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
    main <- names(count)[1]
    data.frame(
      p[1, c("workload", "arm")], limiting = main, passes = paste(count[[1]], "of", nrow(p)),
      evidence = p$evidence[p$limiting == main][1]
    )
  })
  out <- do.call(rbind, parts)
  out <- out[order(match(out$workload, unique(out$workload)), match(out$arm, plan_arms(study$plan))), , drop = FALSE]
  rownames(out) <- NULL
  out
}

#' Add a sensor log of another program to the passes that it covers
#'
#' The log is cut to each pass by time. Where its clock is not this machine's,
#' `offset` says by how many seconds.
#' @param folder Study folder with a ledger.
#' @param path,layout,offset As in [read_sensors()].
#' @param pass For a log that begins with its pass and writes seconds only: which pass.
#' @return A data frame: `pass`, `samples`, one row per pass that the log covers.
#' @section Errors: `honestmargin_error_input` where the log covers no pass.
#' @export
#' @examples
#' # honestmargin add STUDY --sensors log.csv --offset -1.5
add_sensors <- function(folder, path, layout = NULL, offset = NULL, pass = NULL) {
  planned <- study_plan(folder)
  sensors <- read_sensors(path, layout, offset)
  study <- with_ledger(folder, function(con) {
    begun <- merge(merge(ledger_table(con, "begun"), ledger_table(con, "ended"), by = "pass"), ledger_table(con, "pass"))
    begun[order(begun$started), , drop = FALSE]
  })
  study <- if (is.null(pass)) study else study[study$pass %in% pass, , drop = FALSE]
  cut <- if (attr(sensors, "absolute")) {
    lapply(seq_len(nrow(study)), function(i) cut_to_pass(sensors, study[i, ]))
  } else {
    if (is.null(pass) || nrow(study) != 1) {
      abort_needed(
        "the log writes seconds only", path, "say which pass begins with it (--pass), or start: in a layout"
      )
    }
    list(as.data.frame(sensors))
  }
  covered <- vapply(cut, nrow, 1L) > 0
  if (!any(covered)) {
    abort_input(
      paste0("covers no pass: it runs from ", clock_text(min(sensors$time_s)), " to ", clock_text(max(sensors$time_s)), " UTC"),
      path, "is its clock another? give --offset SECONDS, or zone: in a layout"
    )
  }
  for (i in which(covered)) store_sensors(folder, planned$plan, study[i, ], cut[[i]])
  data.frame(pass = study$pass[covered], samples = vapply(cut[covered], nrow, 1L))
}

clock_text <- function(seconds) format(as.POSIXct(seconds, origin = "1970-01-01", tz = "UTC"), "%Y-%m-%d %H:%M:%S")

cut_to_pass <- function(sensors, pass) {
  start <- as.numeric(as.POSIXct(pass$started, format = "%Y-%m-%dT%H:%M:%OS", tz = "UTC"))
  end <- if (is.na(pass$seconds)) {
    as.numeric(as.POSIXct(pass$ended, format = "%Y-%m-%dT%H:%M:%OS", tz = "UTC"))
  } else {
    start + pass$seconds
  }
  inside <- sensors$time_s >= start & sensors$time_s <= end
  rows <- as.data.frame(sensors)[inside, , drop = FALSE]
  rows$time_s <- rows$time_s - start
  rows
}

store_sensors <- function(folder, plan, pass, sensors) {
  with_ledger(folder, function(con) {
    stored <- DBI::dbGetQuery(con, "SELECT count(*) AS n FROM trace WHERE pass = ? AND kind = 'sensors'", list(pass$pass))$n
    trace <- store_trace(folder, pass$pass, "sensors", sensors, again = stored)
    has <- DBI::dbGetQuery(con, "SELECT metric, value FROM reading WHERE pass = ? AND workload = ?", list(
      pass$pass, pass$workload
    ))
    frames <- has$value[has$metric == "frames"]
    values <- sensor_readings(sensor_series(sensors), empty_to(frames, 0), limits = plan$sensors$limits)
    values <- values[!names(values) %in% has$metric]
    in_transaction(con, {
      append_rows(con, "trace", trace)
      if (length(values)) {
        append_rows(con, "reading", data.frame(
          pass = pass$pass, workload = pass$workload, metric = names(values), value = unname(values),
          unit = NA_character_, better = NA_character_
        ))
      }
      append_event(con, "sensors added", pass$pass, reason = paste(nrow(sensors), "samples"))
    })
  })
}
