# Opening and closing a ledger; two processes may have one open at once.

ledger_file <- function(folder) file.path(folder, "ledger.sqlite")
has_ledger <- function(folder) is_begun(ledger_file(folder))

#' Open the ledger of a study folder
#' @noRd
open_sqlite <- function(folder, create = FALSE, write = TRUE) {
  path <- ledger_file(folder)
  if (file.access(folder, 2) != 0 || (file.exists(path) && file.access(path, 2) != 0)) {
    if (write) abort_stuck("this folder cannot be written", folder, "a ledger needs a folder of its own")
    path <- copy_of_ledger(path)
  }
  if (!is_begun(path)) make_ledger(path)
  con <- tryCatch(
    DBI::dbConnect(RSQLite::SQLite(), path, synchronous = NULL),
    error = function(e) abort_ledger(paste("the ledger cannot be opened:", conditionMessage(e)), path)
  )
  known <- new.env(parent = emptyenv())
  store <- structure(
    list(con = con, folder = folder, known = known),
    class = c("honestmargin_sqlite", "honestmargin_ledger", "honestmargin_store")
  )
  tryCatch(
    {
      prepare_connection(con)
      migrate_ledger(con, path)
      assert_tables(con, path)
    },
    error = function(e) {
      close_store(store)
      if (inherits(e, "honestmargin_error")) stop(e)
      abort_ledger(paste("the ledger cannot be read:", conditionMessage(e)), path)
    }
  )
  store
}

# On read-only media, or in another user's folder, a copy is looked at: SQLite writes
# beside a database even to read it, and one of before is brought up to date first.
copy_of_ledger <- function(path) {
  place <- tempfile("ledger-")
  dir.create(place)
  there <- Filter(file.exists, paste0(path, c("", "-wal")))
  file.copy(there, file.path(place, basename(there)), copy.mode = FALSE)
  file.path(place, basename(path))
}

prepare_connection <- function(con) {
  for (setting in c("busy_timeout = 10000", "foreign_keys = ON", "synchronous = FULL")) {
    DBI::dbExecute(con, paste("PRAGMA", setting))
  }
}

# A ledger has a version from the moment it is there; what a kill or a full disk left
# of one that was being made is none (bytes 60 to 63 of the file hold the version, which
# see in "Database File Format" of SQLite's own documentation).
is_begun <- function(path) {
  if (!file.exists(path)) {
    return(FALSE)
  }
  head <- readBin(path, "raw", 100)
  known <- utils::head(charToRaw("SQLite format 3"), length(head))
  # what is something else is opened, and refused with a word
  strange <- any(head != 0) && !identical(head[seq_along(known)], known)
  strange || any(head[61:64] > 0, na.rm = TRUE)
}

# Made aside, put on the disk, then given its name: there is a whole one or none.
make_ledger <- function(path, create = create_ledger) {
  aside <- paste0(path, ".new-", Sys.getpid())
  on.exit(unlink(aside))
  write_whole(aside, function(to) {
    con <- DBI::dbConnect(RSQLite::SQLite(), to, synchronous = NULL)
    in_transaction(con, create(con))
    DBI::dbExecute(con, "PRAGMA journal_mode = WAL")
    DBI::dbDisconnect(con)
    sync_path(to)
  })
  if (file.exists(path) && !is_begun(path)) unlink(paste0(path, c("", "-wal", "-shm")))
  # a link, unlike a renaming, does not take the place of one that another process has made meanwhile
  made <- suppressWarnings(file.link(aside, path)) || file.exists(path) || file.rename(aside, path)
  if (!made) abort_stuck("the ledger could not be put in place", path, "is the folder protected?")
  sync_path(dirname(path))
}

abort_ledger <- function(what, path) {
  abort_input(what, path, paste0(
    "is it a damaged copy? What can still be read of it is saved by: honestmargin export ", dirname(path), " NEW_FOLDER"
  ))
}

assert_tables <- function(con, path) {
  gone <- setdiff(names(ledger_tables), DBI::dbListTables(con))
  if (length(gone)) abort_ledger(paste0("the ledger has no table '", gone[1], "'"), path)
}

#' @export
abort_damaged.honestmargin_sqlite <- function(store, e) {
  text <- conditionMessage(e)
  if (!inherits(e, "honestmargin_error") && grepl(paste0(damage_words, "|disk I/O"), text)) {
    abort_ledger(paste("the ledger cannot be read:", text), ledger_file(store$folder))
  }
}

#' @export
close_store.honestmargin_sqlite <- function(store) {
  if (DBI::dbIsValid(store$con)) DBI::dbDisconnect(store$con)
  invisible()
}
