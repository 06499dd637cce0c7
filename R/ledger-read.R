# A ledger as the same parts that a study folder gives, with its events applied.

#' @param folder Study folder with a ledger.
#' @param batch Which batch; `NULL` for the first.
#' @return As `read_folder()`, with `values` (frame metrics, wide), `piles`,
#'   `events`, `seal` and `snapshots` beside.
#' @noRd
read_ledger <- function(folder, batch = NULL) {
  with_ledger(folder, function(con) {
    names <- c("plan", "seal", "pass", "begun", "ended", "reading", "trace", "pile", "segment_pile", "event")
    tables <- stats::setNames(lapply(names, ledger_table, con = con), names)
    chosen <- empty_to(batch, 1)
    if (!nrow(tables$seal)) abort_input("nothing has run here yet", folder, paste("honestmargin run", folder))
    if (!chosen %in% tables$seal$batch) {
      abort_input(paste0("no batch ", chosen), folder, paste("there are:", some_of(tables$seal$batch)))
    }
    newest <- tables$plan[nrow(tables$plan), ]
    plan <- parse_plan(newest$text, file.path(folder, "study.yml"))
    tables$pass <- tables$pass[tables$pass$batch == chosen, , drop = FALSE]
    passes <- ledger_passes(tables, identical(plan$setting$restart, "machine"))
    list(
      plan = plan, folder = folder, layout = plan$frames_layout, passes = passes,
      traces = trace_files(tables$trace, passes$pass, folder, "frames"),
      sensors = trace_files(tables$trace, passes$pass, folder, "sensors"),
      marks = trace_files(tables$trace, passes$pass, folder, "marks"),
      scores = ledger_readings(tables, passes), piles = all_piles(tables), events = tables$event, seal = tables$seal,
      plans = tables$plan, schedule = tables$pass, batch = chosen, notes = pass_notes(tables)
    )
  })
}

# what the record says of passes that went well
pass_notes <- function(tables) {
  noted <- tables$ended$outcome %in% c("ok", "artefact") & nzchar(empty_na(tables$ended$detail))
  tables$ended[noted & tables$ended$pass %in% tables$pass$pass, c("pass", "detail")]
}

trace_files <- function(trace, passes, folder, kind) {
  of_kind <- trace[trace$kind == kind & trace$pass %in% passes, , drop = FALSE]
  stats::setNames(file.path(folder, of_kind$file), of_kind$pass)
}

# `place` is the segment that a pile is of, `NA` for the whole pass
all_piles <- function(tables) {
  if (!nrow(tables$pile)) {
    return(NULL)
  }
  whole <- cbind(tables$pile, place = NA_character_)
  parts <- tables$segment_pile
  names(parts)[names(parts) == "workload"] <- "place"
  rbind(whole, parts[names(whole)])
}

#' @return The passes that have ended, in the order in which they ran.
#' @noRd
ledger_passes <- function(tables, by_start) {
  ran <- intersect(tables$begun$pass, intersect(tables$pass$pass, tables$ended$pass))
  # a toggled pass stands for itself only until it is cut into its parts
  ran <- setdiff(ran, whole_pass(ran[ran != whole_pass(ran)]))
  of <- function(table) table[match(ran, table$pass), setdiff(names(table), "pass"), drop = FALSE]
  rows <- cbind(pass = ran, of(tables$pass), of(tables$begun), of(tables$ended), row.names = NULL)
  boot <- paste(if (by_start) rows$start, rows$boot, rows$host)
  out <- data.frame(
    rows[c("pass", "workload", "arm", "context", "block")],
    boot = if (nrow(rows)) paste0("b", match(boot, unique(boot))) else character(), order = seq_len(nrow(rows)),
    rows[c("outcome", "role")], reason = rep(NA_character_, nrow(rows)), rows[c("started", "seconds")],
    note = rows$detail, effective = rows$effective
  )
  if (length(unique(boot)) < 2) out$boot <- rep(NA_character_, nrow(out))
  apply_events(out, tables$event)
}

# The last word on a pass counts.
apply_events <- function(passes, events) {
  for (i in which(events$kind %in% c("exclude", "include", "outcome"))) {
    at <- which(passes$pass == events$pass[i])
    switch(events$kind[i],
      exclude = passes[at, c("role", "reason")] <- list("excluded", events$reason[i]),
      include = passes[at, c("role", "reason")] <- list("counted", NA_character_),
      outcome = passes$outcome[at] <- jsonlite::fromJSON(events$detail[i])$outcome
    )
  }
  passes
}

ledger_readings <- function(tables, passes) {
  readings <- tables$reading
  for (i in which(tables$event$kind == "correct")) {
    said <- jsonlite::fromJSON(tables$event$detail[i])
    row <- match(tables$event$pass[i], passes$pass)
    place <- empty_to(said$workload, passes$workload[row]) # of old, only whole passes had readings
    at <- readings$pass %in% passes$pass[row] & readings$metric == said$metric & readings$workload %in% place
    readings$value[at] <- said$value
  }
  at <- match(readings$pass, passes$pass)
  if (all(is.na(at))) {
    return(NULL)
  }
  if (anyNA(at)) readings <- take_rows(readings, which(!is.na(at)))
  known <- passes[setdiff(names(passes), c("workload", "started", "note", "effective", "pass"))]
  readings <- readings[c("pass", "workload", "metric", "value", "unit", "better")]
  list2DF(c(take_rows(known, at[!is.na(at)]), readings, list(scale = rep(NA_character_, nrow(readings)))))
}

#' Passes that have not begun, in the order in which they will run
#' @noRd
open_passes <- function(con, most = -1) {
  DBI::dbGetQuery(con, paste(
    "SELECT * FROM pass WHERE pass NOT IN (SELECT pass FROM begun) ORDER BY batch, position LIMIT", most
  ))
}

next_pass <- function(con) {
  rows <- open_passes(con, 1)
  if (nrow(rows)) rows
}
