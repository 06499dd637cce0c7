# Every write is an act with an id, numbered by the turn of its study. What came before what is that
# number: clocks are set, and two programs may write.

#' The id of an act
#'
#' @param ... What it decides: the same decision a second time is known by it. Nothing: an id of its own.
#' @noRd
act_id <- function(...) {
  said <- c(...)
  if (!length(said)) said <- c(Sys.info()[["nodename"]], clock_now(), Sys.getpid(), basename(tempfile("")))
  digest <- cli::hash_sha256(paste(said, collapse = "\r"))
  paste(substring(digest, c(1, 9, 13, 17, 21), c(8, 12, 16, 20, 32)), collapse = "-")
}

#' Do one act in its turn, whole or not at all
#'
#' @param kind What was done. @param about A list, any of `pass`, `part`, `detail` (a list that can be
#'   written as JSON), `reason`. @param id From `act_id()`.
#' @param rows A list of data frames by table, which belong to the act.
#' @return The number of the act, invisibly; `FALSE` where an act of this id was done before, and nothing is written.
#' @noRd
write_act <- function(store, kind, about = list(), rows = list(), id = act_id()) {
  con <- store$con
  in_transaction(con, {
    n <- DBI::dbGetQuery(con, "UPDATE turn SET n = n + 1 RETURNING n")$n
    fresh <- DBI::dbExecute(con, paste(
      "INSERT INTO act (n, act, kind, pass, part, reason, detail, at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)",
      "ON CONFLICT (act) DO NOTHING"
    ), list(
      n, id, kind, empty_to(about$pass, NA_character_), empty_to(about$part, NA_integer_),
      empty_to(about$reason, NA_character_), if (is.null(about$detail)) NA_character_ else detail_json(about$detail),
      clock_now()
    ))
    if (fresh) for (table in names(rows)) insert_rows(con, table, numbered_rows(rows[[table]], n))
    if (fresh) n else FALSE
  })
}

numbered_rows <- function(rows, n) {
  if (NROW(rows)) {
    rows$n <- n
    rows$line <- seq_len(nrow(rows))
  }
  rows
}

#' Several acts, with what is looked up between them, as one
#'
#' The turn is held from the start, so that nothing that is worked out here can have changed when it is written.
#' @noRd
hold_turn <- function(store, code) {
  in_transaction(store$con, {
    DBI::dbExecute(store$con, "UPDATE turn SET n = n")
    code
  })
}

#' All rows of a table, in the order in which they were written
#' @noRd
ledger_table <- function(store, name) DBI::dbGetQuery(store$con, paste("SELECT * FROM", name, "ORDER BY n, line"))

insert_rows <- function(con, table, rows) {
  if (NROW(rows)) {
    # plain SQL: the general way of DBI asks the database about every column each time
    sql <- paste0(
      "INSERT INTO ", table, " (", paste(names(rows), collapse = ", "), ") VALUES (",
      paste0("$", seq_along(rows), collapse = ", "), ")"
    )
    tryCatch(DBI::dbExecute(con, sql, unname(as.list(rows))), error = function(e) abort_unwritten(e, con))
  }
  invisible()
}

#' All of it or nothing
#'
#' SQLite takes a transaction back by itself when the disk is full, and then has
#' none to roll back; DBI's own helper takes that for a second error.
#' @noRd
in_transaction <- function(con, code) {
  # a savepoint, so that one act may be part of another
  DBI::dbBegin(con, name = "act")
  tryCatch(
    {
      value <- code
      DBI::dbCommit(con, name = "act")
      invisible(value)
    },
    error = function(e) {
      tryCatch(DBI::dbRollback(con, name = "act"), error = function(second) NULL)
      abort_unwritten(e, con)
    }
  )
}

# how a database says that what lies there is not what was written
damage_words <- "malformed|not a database|no such (table|column)"

abort_unwritten <- function(e, con) {
  # damage is told as such by whoever opened the store
  if (inherits(e, "honestmargin_error") || grepl(damage_words, conditionMessage(e))) stop(e)
  abort_stuck(
    paste("the ledger could not be written:", conditionMessage(e)), con@dbname,
    "is the disk full or the folder protected? What was stored before is kept; make room and run again"
  )
}

detail_json <- function(values) as.character(jsonlite::toJSON(values, auto_unbox = TRUE, digits = NA, na = "null"))

# absent parts and segments are 0 and empty there, since a key may hold no NULL
key_columns <- function(rows) {
  if (NROW(rows)) {
    rows$part <- ifelse(is.na(empty_to(rows$part, NA)), 0L, rows$part)
    rows$segment <- empty_na(empty_to(rows$segment, NA_character_))
  }
  rows
}

from_key_columns <- function(rows) {
  rows$part <- replace(rows$part, rows$part == 0L, NA_integer_)
  if (!is.null(rows$segment)) rows$segment <- replace(rows$segment, rows$segment == "", NA_character_)
  rows
}
