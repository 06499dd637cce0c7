# What a ledger says, with its events applied.

#' @export
store_plan.honestmargin_ledger <- function(store, batch = NULL) {
  number <- as.character(empty_to(batch, 1))
  # it is asked for at every pass, and a seal never changes
  if (is.null(store$known[[number]])) store$known[[number]] <- sealed_plan(store, chosen_batch(store, batch))
  store$known[[number]]
}

sealed_plan <- function(store, batch) {
  sealed <- DBI::dbGetQuery(
    store$con, "SELECT plan.text FROM seal JOIN plan ON seal.plan = plan.version WHERE batch = $1", list(batch)
  )
  plan <- parse_plan(sealed$text, file.path(store$folder, "study.yml"))
  blocks <- blocks_of_batch(store, batch)
  if (length(blocks) && blocks != plan$blocks) {
    plan$blocks <- blocks
    attr(plan, "text") <- text_with_blocks(sealed$text, blocks)
  }
  plan
}

blocks_of_batch <- function(store, batch) {
  said <- event_details(ledger_events(store), "fresh batch", batch)
  if (length(said)) as.integer(said[[1]]$blocks)
}

# the plan as a tester would write it for so many blocks
text_with_blocks <- function(text, blocks) {
  lines <- strsplit(text, "\n", fixed = TRUE)[[1]]
  at <- grep("^blocks\\s*:", lines)
  line <- paste("blocks:", blocks)
  if (length(at)) lines[at[1]] <- line else lines <- c(lines, line)
  paste(lines, collapse = "\n")
}

abort_nothing_run <- function(store) {
  abort_input("nothing has run here yet", store$folder, paste("start with: honestmargin run", store$folder))
}

#' @export
store_batches.honestmargin_ledger <- function(store) {
  DBI::dbGetQuery(store$con, "SELECT batch FROM seal ORDER BY batch")$batch
}

chosen_batch <- function(store, batch) {
  there <- store_batches(store)
  if (!length(there)) abort_nothing_run(store)
  batch <- empty_to(batch, 1)
  if (!batch %in% there) {
    abort_input(paste0("no batch ", batch), store$folder, paste("there are:", some_of(there)))
  }
  batch
}

#' @export
store_passes.honestmargin_ledger <- function(store, batch = NULL) {
  rows <- DBI::dbGetQuery(store$con, paste(
    "SELECT pass.*, begun.started, begun.boot, begun.host, ended.seconds, ended.outcome, ended.effective, ended.note",
    "FROM begun JOIN ended USING (pass) JOIN pass USING (pass) WHERE pass.batch = $1 ORDER BY begun.n"
  ), list(chosen_batch(store, batch)))
  by_start <- nrow(rows) && store_plan(store, batch)$setting$restart == "machine"
  boot <- paste(if (by_start) rows$start, rows$boot, rows$host)
  several <- length(unique(boot)) > 1
  rows$boot <- if (several) paste0("b", match(boot, unique(boot))) else rep(NA_character_, nrow(rows))
  rows$order <- as.numeric(seq_len(nrow(rows)))
  rows$part <- rep(NA_integer_, nrow(rows))
  rows$reason <- rep(NA_character_, nrow(rows))
  apply_events(rows[pass_columns], ledger_events(store))
}

#' @export
store_summaries.honestmargin_ledger <- function(store, plan, passes, metrics = list()) {
  of_batch <- function(table) table[table$pass %in% passes$pass, , drop = FALSE]
  readings <- DBI::dbGetQuery(store$con, "SELECT * FROM reading WHERE origin = 'captured' ORDER BY n, line")
  piles <- of_batch(ledger_table(store, "pile"))
  parts <- of_batch(ledger_table(store, "part"))
  found <- of_batch(ledger_table(store, "finding"))
  list(
    readings = rbind(
      own_readings(store, plan, passes, metrics),
      from_key_columns(of_batch(readings)[c("pass", "part", "segment", "metric", "value", "unit", "better")])
    ),
    piles = if (nrow(piles)) from_key_columns(piles), parts = parts[order(match(parts$pass, passes$pass)), ],
    limits = stored_limits(of_batch(ledger_table(store, "limiting"))),
    pace = stored_pace(of_batch(ledger_table(store, "pace"))), findings = stored_findings(found)
  )
}

stored_limits <- function(rows) {
  if (nrow(rows)) {
    rows$evidence <- lapply(rows$evidence, function(text) jsonlite::fromJSON(text, simplifyDataFrame = FALSE))
    from_key_columns(rows)
  }
}

stored_pace <- function(rows) {
  rows$levels <- lapply(rows$levels, function(text) as.numeric(jsonlite::fromJSON(text)))
  rows
}

# the tester's own metrics of frame times were not known when the pass ran
own_readings <- function(store, plan, passes, metrics) {
  own <- Filter(function(m) is.function(m$compute), metrics)
  traces <- store_traces(store)
  framed <- if (length(own)) which(passes$pass %in% traces$pass[traces$kind == "frames"] & is.na(passes$part))
  stack_rows(lapply(framed, function(i) {
    capture <- store_capture(store, passes[i, ], c("frames", "marks"))
    rows <- summarise_capture(capture, plan, own)$readings
    if (!is.null(rows)) cbind(pass = passes$pass[i], rows[rows$metric %in% names(by_id(own)), ])
  }))
}

stored_findings <- function(found) {
  do.call(bind_findings, lapply(seq_len(nrow(found)), function(i) {
    values <- if (!is.na(found$detail[i])) jsonlite::fromJSON(found$detail[i])
    do.call(new_finding, c(list(found$severity[i], found$code[i]), values, list(pass = found$pass[i])))
  }))
}

#' @export
store_typed.honestmargin_ledger <- function(store, plan, passes) {
  typed <- ledger_table(store, "reading")
  typed <- from_key_columns(typed[typed$pass %in% passes$pass, , drop = FALSE])
  corrected <- rep(FALSE, nrow(typed))
  events <- ledger_events(store)
  events <- events[events$kind == "correct", , drop = FALSE]
  for (i in which(events$pass %in% passes$pass)) {
    said <- jsonlite::fromJSON(events$detail[i])
    at <- typed$pass == events$pass[i] & typed$part %in% events$part[i] & typed$metric == said$metric &
      typed$segment %in% empty_to(said$segment, NA_character_)
    typed$value[at] <- said$value
    corrected <- corrected | at
  }
  typed[typed$origin == "typed" | corrected, c("pass", "part", "segment", "metric", "value", "unit", "better")]
}

#' @export
store_traces.honestmargin_ledger <- function(store) {
  unique(DBI::dbGetQuery(store$con, paste(
    "SELECT pass, kind FROM trace WHERE kind IN ('frames', 'sensors', 'marks') ORDER BY n, line"
  )))
}

#' @export
store_capture.honestmargin_ledger <- function(store, pass, kinds = c("frames", "sensors", "marks")) {
  files <- DBI::dbGetQuery(
    store$con, "SELECT kind, file, hash FROM trace WHERE pass = $1 ORDER BY n, line", list(pass$pass)
  )
  files <- files[files$kind %in% kinds, , drop = FALSE]
  # what is not as it was stored is no trace
  whole <- vapply(seq_len(nrow(files)), function(i) trace_is_whole(store$folder, files$file[i], files$hash[i]), NA)
  # those that are gone are found by the record
  changed <- files$file[!whole & (!stays_inside(files$file) | file.exists(file.path(store$folder, files$file)))]
  damaged <- lapply(changed, function(file) new_finding("warning", "trace_damaged", file = file, pass = pass$pass))
  read <- function(kind) {
    there <- files$file[files$kind == kind & whole]
    # whole as it was stored, and yet none that can be read: told, and no more is lost than this one
    tables <- lapply(there, function(file) {
      tryCatch(read_trace(file.path(store$folder, file)), error = function(e) {
        damaged <<- c(damaged, list(new_finding("warning", "trace_damaged", file = file, pass = pass$pass)))
        NULL
      })
    })
    if (any(lengths(tables) > 0)) stack_rows(Filter(length, tables))
  }
  traces <- lapply(stats::setNames(nm = c("frames", "marks", "sensors")), read)
  new_capture(pass, traces$frames, traces$marks, traces$sensors, findings = do.call(bind_findings, damaged))
}

#' @export
store_open.honestmargin_ledger <- function(store, most = -1) {
  DBI::dbGetQuery(store$con, paste(
    "SELECT * FROM pass WHERE", still_open, "ORDER BY batch, position", if (most > 0) paste("LIMIT", most)
  ))
}

# not begun, and not of an arm that was settled and is left out of later blocks, nor of pairs that were given up; asked
# before each pass of a run, so the ledger answers it and not a table of all that is open
still_open <- paste(
  "pass NOT IN (SELECT pass FROM begun) AND NOT EXISTS (SELECT 1 FROM act WHERE kind = 'arm settled'",
  "AND CAST(act.detail ->> 'batch' AS INTEGER) = pass.batch AND act.detail ->> 'arm' = pass.arm)",
  "AND batch NOT IN (SELECT CAST(detail ->> 'batch' AS INTEGER) FROM act WHERE kind = 'revealed')"
)

#' @export
store_progress.honestmargin_ledger <- function(store) {
  DBI::dbGetQuery(store$con, paste(
    "SELECT (SELECT count(*) FROM begun) + (SELECT count(*) FROM pass WHERE", still_open, ") AS planned,",
    "count(*) AS done, coalesce(sum(seconds), 0.0) AS seconds FROM ended"
  ))
}

#' @export
store_unfinished.honestmargin_ledger <- function(store) {
  DBI::dbGetQuery(store$con, paste(
    "SELECT pass.*, begun.started, begun.pid, begun.boot, begun.host FROM begun JOIN pass USING (pass)",
    "WHERE pass NOT IN (SELECT pass FROM ended)"
  ))
}

#' @export
store_last.honestmargin_ledger <- function(store) {
  rows <- DBI::dbGetQuery(
    store$con, paste(
      "SELECT pass.*, begun.boot, ended.outcome FROM pass JOIN begun USING (pass) LEFT JOIN ended USING (pass)",
      "ORDER BY begun.n DESC LIMIT 1"
    )
  )
  if (nrow(rows)) rows
}

#' @export
store_handover.honestmargin_ledger <- function(store, pass) {
  DBI::dbGetQuery(
    store$con, "SELECT boot, done FROM handover WHERE batch = $1 AND start = $2 ORDER BY n",
    list(pass$batch, pass$start)
  )
}

#' @export
store_taken.honestmargin_ledger <- function(store) {
  taken <- ledger_table(store, "taken")
  taken[!taken$pass %in% undone_passes(ledger_events(store)), , drop = FALSE]
}

#' @export
store_values.honestmargin_ledger <- function(store, pass, segment, metric, any_arm = FALSE) {
  DBI::dbGetQuery(
    store$con, paste(
      "SELECT value FROM reading JOIN pass USING (pass)",
      "WHERE workload = $1 AND context IS NOT DISTINCT FROM $2 AND segment = $3 AND metric = $4",
      if (!any_arm) "AND arm = $5", "ORDER BY reading.n, reading.line"
    ),
    c(list(pass$workload, pass$context, empty_na(segment), metric), if (!any_arm) list(pass$arm))
  )$value
}

#' @export
store_shown.honestmargin_ledger <- function(store, pass) {
  seen <- DBI::dbGetQuery(
    store$con, paste(
      "SELECT effective FROM ended JOIN pass USING (pass) WHERE batch = $1 AND start = $2 AND effective IS NOT NULL",
      "AND outcome IN ('ok', 'artefact') ORDER BY ended.n DESC LIMIT 1"
    ),
    list(pass$batch, pass$start)
  )$effective
  if (length(seen)) seen
}

#' @export
store_readings.honestmargin_ledger <- function(store, pass) {
  from_key_columns(DBI::dbGetQuery(store$con, "SELECT * FROM reading WHERE pass = $1 ORDER BY n, line", list(pass)))
}

#' @export
store_ended.honestmargin_ledger <- function(store) {
  DBI::dbGetQuery(store$con, paste(
    "SELECT pass.*, begun.started, ended.ended, ended.seconds, ended.played",
    "FROM ended JOIN begun USING (pass) JOIN pass USING (pass)",
    "WHERE pass NOT IN (SELECT pass FROM act WHERE kind = 'undo') ORDER BY begun.n"
  ))
}

#' @export
store_compared.honestmargin_ledger <- function(store) {
  DBI::dbGetQuery(
    store$con, "SELECT arm FROM pass WHERE role NOT IN ('rung', 'soak') GROUP BY arm ORDER BY max(position)"
  )$arm
}
