# What can still be read of a damaged ledger, table by table and row by row.

#' A whole ledger made of what can be read of a damaged one
#'
#' @param folder Study folder.
#' @return A list: `folder`, a new study folder that holds the ledger, the plan and links to nothing:
#'   traces are read where they lie; `lost`, the names of tables that could not be read to their end.
#' @noRd
rescue_ledger <- function(folder) {
  aside <- tempfile("rescued-")
  dir.create(aside)
  copy <- copy_of_ledger(ledger_file(folder))
  from <- DBI::dbConnect(RSQLite::SQLite(), copy, synchronous = NULL)
  # one of before is saved as it was, and brought up to date when it is opened
  numbered <- version_left(from) == ledger_version
  tables <- if (numbered) ledger_tables[names(ledger_tables) != "turn"] else tables_before
  make_ledger(ledger_file(aside), if (numbered) create_ledger else create_before)
  to <- DBI::dbConnect(RSQLite::SQLite(), ledger_file(aside), synchronous = NULL)
  on.exit({
    DBI::dbDisconnect(from)
    DBI::dbDisconnect(to)
  })
  lost <- Filter(function(name) {
    whole <- rescue_table(from, to, name)
    # all else hangs on these two: without them the plan beside the ledger stands in
    if (name == "seal") rescue_plan(from, to, folder, numbered)
    !whole
  }, names(tables))
  if (numbered) rescue_turn(to, names(tables))
  list(folder = aside, lost = lost)
}

version_left <- function(from) {
  tryCatch(DBI::dbGetQuery(from, "PRAGMA user_version")[[1]], error = function(e) ledger_version)
}

# a plan whose page is gone is that of study.yml, and each batch that passes speak of was sealed with it
rescue_plan <- function(from, to, folder, numbered) {
  put <- function(table, rows) insert_rows(to, table, if (numbered) numbered_rows(rows, 0L) else rows)
  beside <- file.path(folder, "study.yml")
  now <- clock_now()
  known <- DBI::dbGetQuery(to, "SELECT version, hash FROM plan ORDER BY version DESC LIMIT 1")
  if (!nrow(known)) {
    if (!file.exists(beside)) {
      return(invisible())
    }
    text <- paste(readLines(beside, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
    known <- data.frame(version = 1L, hash = cli::hash_sha256(text))
    put("plan", data.frame(version = 1L, stored = now, hash = known$hash, text = text))
  }
  batches <- tryCatch(DBI::dbGetQuery(from, "SELECT DISTINCT batch FROM pass")$batch, error = function(e) 1L)
  lacking <- setdiff(batches, DBI::dbGetQuery(to, "SELECT batch FROM seal")$batch)
  if (length(lacking)) {
    put("seal", data.frame(batch = lacking, plan = known$version, hash = known$hash, sealed = now))
  }
}

# the number goes on after the last that is known, though the table of acts may be gone
rescue_turn <- function(to, tables) {
  last <- vapply(tables, function(name) DBI::dbGetQuery(to, sprintf("SELECT max(n) AS n FROM %s", name))$n[1] + 0, 1)
  DBI::dbExecute(to, "UPDATE turn SET n = $1", list(max(0, last, na.rm = TRUE)))
}

#' @return `TRUE` where the table was read to its end.
#' @noRd
rescue_table <- function(from, to, name) {
  known <- DBI::dbListFields(to, name)
  result <- tryCatch(DBI::dbSendQuery(from, paste("SELECT * FROM", name)), error = function(e) NULL)
  if (is.null(result)) {
    return(FALSE)
  }
  on.exit(DBI::dbClearResult(result))
  repeat {
    row <- tryCatch(DBI::dbFetch(result, n = 1), error = function(e) NULL)
    if (is.null(row)) {
      return(FALSE)
    }
    if (!nrow(row)) {
      return(TRUE)
    }
    # a row that does not fit any more (its pass is gone) is left out
    tryCatch(insert_rows(to, name, row[intersect(names(row), known)]), error = function(e) NULL)
  }
}

#' @noRd
is_damaged <- function(folder) {
  if (!has_ledger(folder)) {
    return(FALSE)
  }
  tryCatch(
    with_store(folder, function(store) {
      !identical(DBI::dbGetQuery(store$con, "PRAGMA integrity_check(1)")[[1]], "ok")
    }, write = FALSE, blind = TRUE),
    honestmargin_error_input = function(e) TRUE
  )
}
