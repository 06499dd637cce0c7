# Sensor logs of other programs, cut to the passes that they cover.

#' Add a sensor log of another program to the passes that it covers
#'
#' The log is cut to each pass by time. Where its clock is not this machine's,
#' `offset` says by how many seconds.
#' @param x Study folder with a ledger.
#' @param path,layout,offset As in [read_sensors()].
#' @param ... Not used.
#' @param pass For a log that begins with its pass and writes seconds only: which pass.
#' @return A data frame: `pass`, `samples`, one row per pass that the log covers.
#' @section Errors: `honestmargin_error_input` where the log covers no pass or was added before.
#' @export
#' @examples
#' # honestmargin add STUDY --sensors log.csv --offset -1.5
add_sensors <- function(x, path, layout = NULL, ..., offset = NULL, pass = NULL) {
  assert_no_dots(...)
  folder <- folder_of(x)
  plan <- read_plan(folder)
  sensors <- read_sensors(path, layout, offset = offset)
  hash <- cli::hash_file_sha256(path)
  with_store(folder, function(store) {
    before <- store_taken(store)
    if (hash %in% before$hash) {
      abort_input("was added before", path, paste("it began with pass", before$pass[before$hash == hash]))
    }
    passes <- store_ended(store)
    passes <- passes[is.null(pass) | passes$pass %in% pass, , drop = FALSE]
    cut <- cut_log(sensors, passes, pass, path)
    covered <- which(vapply(cut, nrow, 1L) > 0)
    if (!length(covered)) {
      ends <- clock_text(range(sensors$time_s))
      abort_input(
        paste0("covers no pass: it runs from ", ends[1], " to ", ends[2], " UTC"), path,
        "is its clock another? give --offset SECONDS, or zone: in a layout"
      )
    }
    # all of the log or none of it
    store_add_sensors(
      store, lapply(covered, function(i) with_sensors(store, plan, passes[i, ], cut[[i]])),
      taken_row(path, passes$pass[covered[1]], hash)
    )
    data.frame(pass = passes$pass[covered], samples = vapply(cut[covered], nrow, 1L))
  })
}

#' A pass with its sensors, as one that was captured with them
#' @return A list: `pass`, `sensors`, `readings`, `limits`.
#' @noRd
with_sensors <- function(store, plan, pass, sensors) {
  capture <- store_capture(store, pass, c("frames", "marks"))
  capture <- new_capture(pass, capture$frames, capture$marks, sensors)
  summary <- summarise_capture(capture, plan)
  readings <- summary$readings
  if (NROW(readings)) readings$origin <- "captured"
  list(pass = pass$pass, sensors = capture$sensors, readings = readings, limits = summary$limits)
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

# from when the workload began; what came before it, settling and gates, is no pass
cut_to_pass <- function(sensors, pass) {
  start <- stamp_seconds(if (is.na(pass$played)) pass$started else pass$played)
  # a list of passes need not say when they ran
  if (is.na(start) || (is.na(pass$seconds) && is.na(pass$ended))) {
    return(as.data.frame(sensors)[0, , drop = FALSE])
  }
  end <- if (is.na(pass$seconds)) stamp_seconds(pass$ended) else start + pass$seconds
  inside <- sensors$time_s >= start & sensors$time_s <= end
  rows <- as.data.frame(sensors)[inside, , drop = FALSE]
  rows$time_s <- rows$time_s - start
  rows
}
