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
    passes <- passes[covered, , drop = FALSE]
    samples <- vapply(cut[covered], nrow, 1L)
    kept <- Map(
      function(i, sensors) keep_sensors(con, folder, planned$plan, passes[i, ], sensors),
      seq_along(samples), cut[covered]
    )
    # all of the log or none of it
    in_transaction(con, {
      for (i in seq_along(kept)) {
        append_rows(con, "trace", kept[[i]]$traces)
        append_rows(con, "reading", kept[[i]]$readings)
        append_event(con, "sensors added", passes$pass[i], reason = paste(samples[i], "samples"))
      }
      append_rows(con, "taken", taken_row(path, passes$pass[1], hash))
    })
    data.frame(pass = passes$pass, samples = samples)
  })
}

# Passes that have ended, in the order of time; the parts of a toggled one have no
# time of their own.
passes_in_time <- function(con, pass) {
  ran <- merge(ledger_table(con, "begun"), ledger_table(con, "ended"), by = "pass")
  ran <- merge(ran, ledger_table(con, "pass"), by = "pass")
  ran <- ran[ran$pass == whole_pass(ran$pass) & (is.null(pass) | ran$pass %in% pass), , drop = FALSE]
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

# from when the workload began; what came before it, settling and gates, is no pass
cut_to_pass <- function(sensors, pass) {
  start <- stamp_seconds(if (is.na(pass$played)) pass$started else pass$played)
  end <- if (is.na(pass$seconds)) stamp_seconds(pass$ended) else start + pass$seconds
  inside <- sensors$time_s >= start & sensors$time_s <= end
  rows <- as.data.frame(sensors)[inside, , drop = FALSE]
  rows$time_s <- rows$time_s - start
  rows
}

#' Traces on the disk, and the rows of the ledger for one pass
#' @noRd
keep_sensors <- function(con, folder, plan, pass, sensors) {
  stored <- DBI::dbGetQuery(con, own_or_part("pass, kind, file", "trace"), list(pass$pass))
  of_kind <- function(kind) {
    file <- stored$file[stored$kind == kind & stored$pass == pass$pass]
    if (length(file)) read_trace(file.path(folder, file[1]))
  }
  about <- about_pass(plan, pass, list(frames = of_kind("frames"), marks = of_kind("marks"), sensors = sensors))
  parts <- if (about$toggled) toggled_passes(about)
  store <- function(id, table) {
    store_trace(folder, id, "sensors", table, nth = sum(stored$kind == "sensors" & stored$pass == id))
  }
  traces <- lapply(Filter(function(p) !is.null(p$sensors), parts), function(p) store(p$pass, p$sensors))
  traces <- do.call(rbind, c(list(store(pass$pass, sensors)), traces))
  list(traces = traces, readings = missing_readings(con, about, parts))
}

# rows of a pass, and of the parts that a toggled one was cut into
own_or_part <- function(columns, table) {
  paste("SELECT", columns, "FROM", table, "WHERE pass = ?1 OR pass LIKE ?1 || '.%'")
}

# Those of the pass, its segments or its flips that are not there yet: what was read
# from frames and other sensors stands.
missing_readings <- function(con, about, parts) {
  readings <- if (about$toggled) do.call(rbind, lapply(parts, `[[`, "readings")) else pass_readings(about)$readings
  has <- DBI::dbGetQuery(con, own_or_part("pass, workload, metric", "reading"), list(about$pass$pass))
  key <- function(rows) paste(rows$pass, rows$workload, rows$metric, sep = "\r")
  if (!is.null(readings)) readings[!key(readings) %in% key(has), , drop = FALSE]
}
