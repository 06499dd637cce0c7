# Sensor logs of other programs, cut to the passes that they cover.

#' Add a sensor log of another program to the passes that it covers
#'
#' The log is cut to each pass by time. Where its clock is not this machine's,
#' `offset` says by how many seconds.
#' @param folder Study folder with a ledger.
#' @param path,layout,offset As in [read_sensors()].
#' @param pass For a log that begins with its pass and writes seconds only: which pass.
#' @return A data frame: `pass`, `samples`, one row per pass that the log covers.
#' @section Errors: `honestmargin_error_input` where the log covers no pass or was added before.
#' @export
#' @examples
#' # honestmargin add STUDY --sensors log.csv --offset -1.5
add_sensors <- function(folder, path, layout = NULL, offset = NULL, pass = NULL) {
  planned <- study_plan(folder)
  sensors <- read_sensors(path, layout, offset)
  hash <- cli::hash_file_sha256(path)
  with_ledger(folder, function(con) {
    before <- ledger_table(con, "taken")
    if (hash %in% before$hash) {
      abort_input("was added before", path, paste("it began with pass", before$pass[before$hash == hash]))
    }
    passes <- passes_in_time(con, pass)
    cut <- cut_log(sensors, passes, pass, path)
    covered <- vapply(cut, nrow, 1L) > 0
    if (!any(covered)) {
      ends <- clock_text(range(sensors$time_s))
      abort_input(
        paste0("covers no pass: it runs from ", ends[1], " to ", ends[2], " UTC"), path,
        "is its clock another? give --offset SECONDS, or zone: in a layout"
      )
    }
    for (i in which(covered)) store_sensors(con, folder, planned$plan, passes[i, ], cut[[i]])
    append_rows(
      con, "taken", data.frame(hash = hash, file = basename(path), pass = passes$pass[covered][1], at = clock_now())
    )
    data.frame(pass = passes$pass[covered], samples = vapply(cut[covered], nrow, 1L))
  })
}

# Passes that have ended, in the order of time; the parts of a toggled one have no
# time of their own.
passes_in_time <- function(con, pass) {
  ran <- merge(ledger_table(con, "begun"), ledger_table(con, "ended"), by = "pass")
  ran <- merge(ran, ledger_table(con, "pass"), by = "pass")
  ran <- ran[!grepl("[.][0-9]+$", ran$pass) & (is.null(pass) | ran$pass %in% pass), , drop = FALSE]
  ran[order(ran$started), , drop = FALSE]
}

cut_log <- function(sensors, passes, pass, path) {
  if (attr(sensors, "absolute")) {
    return(lapply(seq_len(nrow(passes)), function(i) cut_to_pass(sensors, passes[i, ])))
  }
  if (is.null(pass) || nrow(passes) != 1) {
    abort_needed(
      "the log writes seconds only", path, "say which pass begins with it (--pass), or start: in a layout"
    )
  }
  list(as.data.frame(sensors))
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

store_sensors <- function(con, folder, plan, pass, sensors) {
  of_pass <- function(sql, ...) DBI::dbGetQuery(con, sql, list(pass$pass, ...))
  stored <- of_pass("SELECT count(*) AS n FROM trace WHERE pass = ? AND kind = 'sensors'")$n
  has <- of_pass("SELECT metric, value FROM reading WHERE pass = ? AND workload = ?", pass$workload)
  trace <- store_trace(folder, pass$pass, "sensors", sensors, nth = stored)
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
}
