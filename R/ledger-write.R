# What is written into a ledger, each act whole or not at all.

#' All of it or nothing
#'
#' SQLite takes a transaction back by itself when the disk is full, and then has
#' none to roll back; DBI's own helper takes that for a second error.
#' @noRd
in_transaction <- function(con, code) {
  DBI::dbBegin(con)
  tryCatch(
    {
      value <- code
      DBI::dbCommit(con)
      invisible(value)
    },
    error = function(e) {
      tryCatch(DBI::dbRollback(con), error = function(second) NULL)
      abort_unwritten(e, con)
    }
  )
}

abort_unwritten <- function(e, con) {
  if (inherits(e, "honestmargin_error")) stop(e)
  abort_stuck(
    paste("the ledger could not be written:", conditionMessage(e)), con@dbname,
    "is the disk full or the folder protected? What was stored before is kept; make room and run again"
  )
}

append_rows <- function(con, table, rows) {
  if (NROW(rows)) {
    # plain SQL: the general way of DBI asks the database about every column each time
    sql <- paste0(
      "INSERT INTO ", table, " (", paste(names(rows), collapse = ", "), ") VALUES (",
      paste(rep("?", length(rows)), collapse = ", "), ")"
    )
    tryCatch(DBI::dbExecute(con, sql, unname(as.list(rows))), error = function(e) abort_unwritten(e, con))
  }
  invisible()
}

append_event <- function(con, kind, pass = NA_character_, detail = NULL, reason = NA_character_) {
  append_rows(con, "event", data.frame(
    at = clock_now(), kind = kind, pass = pass, reason = reason,
    detail = if (is.null(detail)) {
      NA_character_
    } else {
      as.character(jsonlite::toJSON(
        detail,
        auto_unbox = TRUE, digits = NA, na = "null"
      ))
    }
  ))
}

#' Store the plan as it stands; a change after the seal becomes an event
#'
#' @return The version of the plan.
#' @noRd
store_plan <- function(con, text) {
  hash <- cli::hash_sha256(text)
  known <- DBI::dbGetQuery(con, "SELECT version, hash FROM plan ORDER BY version DESC LIMIT 1")
  if (nrow(known) && known$hash == hash) {
    return(known$version)
  }
  version <- if (nrow(known)) known$version + 1L else 1L
  in_transaction(con, {
    append_rows(con, "plan", data.frame(version = version, stored = clock_now(), hash = hash, text = text))
    if (version > 1) {
      append_event(
        con, "plan changed",
        detail = list(version = version), reason = "the plan was changed after the seal"
      )
    }
  })
  version
}

#' Seal a batch: from now on its plan and its passes stand
#' @noRd
seal_batch <- function(con, version, schedule) {
  batch <- schedule$batch[1]
  hash <- DBI::dbGetQuery(con, "SELECT hash FROM plan WHERE version = ?", list(version))$hash
  in_transaction(con, {
    append_rows(con, "seal", data.frame(batch = batch, plan = version, hash = hash, sealed = clock_now()))
    rows <- schedule[c("pass", "batch", "position", "block", "start", "context", "arm", "workload", "role")]
    rows$block <- ifelse(is.na(rows$block), NA, paste0(if (batch > 1) paste0("r", batch, "."), rows$block))
    rows$start <- rows$start + 1000L * (batch - 1L)
    append_rows(con, "pass", rows)
  })
}

#' Store the plan, and seal its first batch where nothing is sealed yet
#' @noRd
seal_first <- function(con, text, plan) {
  version <- store_plan(con, text)
  if (!nrow(ledger_table(con, "seal"))) seal_batch(con, version, plan_schedule(plan))
}

begin_pass <- function(con, pass, machine) {
  append_rows(con, "begun", data.frame(
    pass = pass, started = clock_now(), pid = Sys.getpid(), boot = machine$boot, host = machine$host
  ))
}

#' Store a finished pass: its traces are on the disk already, its row comes last
#'
#' @param record A list: `pass`, `seconds`, `outcome`, `effective`, `detail`, `played` (when
#'   the workload began), `readings`, `traces`, `pile`, `segment_piles`, `snapshots`, `taken` (the file it came
#'   in; data frames or `NULL`), `parts` (the passes that a toggled one falls into).
#' @noRd
end_pass <- function(con, record) {
  in_transaction(con, {
    append_rows(con, "reading", record$readings)
    append_rows(con, "trace", record$traces)
    append_rows(con, "pile", record$pile)
    append_rows(con, "segment_pile", record$segment_piles)
    append_rows(con, "snapshot", record$snapshots)
    append_rows(con, "taken", record$taken)
    append_rows(con, "ended", data.frame(
      pass = record$pass, ended = clock_now(), seconds = empty_to(record$seconds, NA_real_), outcome = record$outcome,
      effective = empty_to(record$effective, NA_character_), detail = empty_to(record$detail, NA_character_),
      played = empty_to(record$played, NA_character_)
    ))
    for (part in record$parts) append_part(con, record$pass, part)
  })
}

# a file that came in from elsewhere, known again by its content
taken_row <- function(path, pass, hash = cli::hash_file_sha256(path)) {
  data.frame(hash = hash, file = basename(path), pass = pass, at = clock_now())
}

# a part shares place, start and machine with the pass it was cut from
append_part <- function(con, whole, part) {
  row <- function(table) DBI::dbGetQuery(con, paste("SELECT * FROM", table, "WHERE pass = ?"), list(whole))
  number <- as.numeric(sub("^.*[.]", "", part$pass))
  pass <- row("pass")
  pass[c("pass", "position", "arm", "block", "instead_of")] <- list(
    part$pass, pass$position + number / 1e4, part$arm, part$block, NA_character_
  )
  begun <- row("begun")
  begun$pass <- part$pass
  append_rows(con, "pass", pass)
  append_rows(con, "begun", begun)
  append_rows(con, "reading", part$readings)
  append_rows(con, "trace", part$traces)
  append_rows(con, "pile", part$pile)
  append_rows(con, "ended", data.frame(
    pass = part$pass, ended = clock_now(), seconds = part$seconds, outcome = "ok", effective = NA_character_,
    detail = paste("a part of", whole)
  ))
}

#' A pass that takes the place of one that gave nothing
#' @noRd
replace_pass <- function(con, pass, reason) {
  old <- DBI::dbGetQuery(con, "SELECT * FROM pass WHERE pass = ?", list(pass))
  tries <- DBI::dbGetQuery(con, "SELECT count(*) AS n FROM pass WHERE instead_of = ?", list(pass))$n
  new <- old
  new$pass <- paste0(pass, letters[tries + 2])
  new$position <- old$position + 0.001
  new$instead_of <- pass
  in_transaction(con, {
    append_rows(con, "pass", new)
    append_event(con, "run again", pass = new$pass, detail = list(instead_of = pass), reason = reason)
  })
}
