# Sensor logs of other programs, cut to the passes that they cover.

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
    begun <- merge(
      merge(ledger_table(con, "begun"), ledger_table(con, "ended"), by = "pass"), ledger_table(con, "pass")
    )
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
      paste0(
        "covers no pass: it runs from ", clock_text(min(sensors$time_s)), " to ", clock_text(max(sensors$time_s)),
        " UTC"
      ),
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
    stored <- DBI::dbGetQuery(
      con, "SELECT count(*) AS n FROM trace WHERE pass = ? AND kind = 'sensors'", list(pass$pass)
    )$n
    trace <- store_trace(folder, pass$pass, "sensors", sensors, nth = stored)
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
