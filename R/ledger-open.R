# Opening and closing a ledger; two processes may have one open at once.

ledger_file <- function(folder) file.path(folder, "ledger.sqlite")
has_ledger <- function(folder) file.exists(ledger_file(folder))

#' Open the ledger of a study folder
#'
#' @param folder Study folder.
#' @param create Make one where there is none.
#' @return A DBI connection; close it with `close_ledger()`.
#' @noRd
open_ledger <- function(folder, create = FALSE) {
  path <- ledger_file(folder)
  fresh <- !file.exists(path)
  if (fresh && !create) {
    abort_input(
      "nothing has run here yet", folder, paste0("start with: honestmargin run ", folder)
    )
  }
  if (file.access(folder, 2) != 0) {
    abort_stuck(
      "this folder cannot be written", folder, "a ledger needs a folder of its own"
    )
  }
  con <- tryCatch(
    DBI::dbConnect(RSQLite::SQLite(), path, synchronous = NULL),
    error = function(e) {
      abort_input(
        paste("the ledger cannot be opened:", conditionMessage(e)), path, "is it a damaged copy?"
      )
    }
  )
  tryCatch(
    {
      DBI::dbExecute(con, "PRAGMA busy_timeout = 10000")
      DBI::dbExecute(con, "PRAGMA foreign_keys = ON")
      DBI::dbExecute(con, "PRAGMA synchronous = FULL")
      if (fresh) {
        DBI::dbExecute(con, "PRAGMA journal_mode = WAL")
        in_transaction(con, create_ledger(con))
      }
      migrate_ledger(con, path)
    },
    error = function(e) {
      close_ledger(con)
      if (inherits(e, "honestmargin_error")) stop(e)
      abort_input(paste("the ledger cannot be read:", conditionMessage(e)), path, "is it a damaged copy?")
    }
  )
  con
}

close_ledger <- function(con) if (DBI::dbIsValid(con)) DBI::dbDisconnect(con)

with_ledger <- function(folder, code, create = FALSE) {
  con <- open_ledger(folder, create)
  on.exit(close_ledger(con))
  code(con)
}

ledger_table <- function(con, name) DBI::dbGetQuery(con, paste("SELECT * FROM", name, "ORDER BY rowid"))

clock_now <- function() format(Sys.time(), "%Y-%m-%dT%H:%M:%OS3Z", tz = "UTC")
stamp_seconds <- function(text) as.numeric(as.POSIXct(text, format = "%Y-%m-%dT%H:%M:%OS", tz = "UTC"))
