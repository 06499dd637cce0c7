# The tables of a ledger. Nothing in them is ever changed or taken away: what a
# tester corrects is an event beside it, and triggers refuse anything else.

ledger_version <- 8L

# as they were up to version 7, before acts had numbers
tables_before <- c(
  plan = "version INTEGER PRIMARY KEY, stored TEXT NOT NULL, hash TEXT NOT NULL, text TEXT NOT NULL",
  seal = paste(
    "batch INTEGER PRIMARY KEY, plan INTEGER NOT NULL REFERENCES plan(version), hash TEXT NOT NULL,",
    "sealed TEXT NOT NULL"
  ),
  pass = paste(
    "pass TEXT PRIMARY KEY, batch INTEGER NOT NULL REFERENCES seal(batch), position REAL NOT NULL, block TEXT,",
    "start INTEGER, context TEXT, arm TEXT NOT NULL, workload TEXT NOT NULL, role TEXT NOT NULL,",
    "attempt INTEGER NOT NULL DEFAULT 1, instead_of TEXT REFERENCES pass(pass), extra INTEGER NOT NULL DEFAULT 0"
  ),
  handover = paste(
    "id INTEGER PRIMARY KEY, at TEXT NOT NULL, batch INTEGER NOT NULL, start INTEGER NOT NULL, boot TEXT NOT NULL,",
    "done INTEGER NOT NULL"
  ),
  begun = paste(
    "pass TEXT PRIMARY KEY REFERENCES pass(pass), started TEXT NOT NULL, pid INTEGER NOT NULL,",
    "boot TEXT NOT NULL, host TEXT NOT NULL"
  ),
  ended = paste(
    "pass TEXT PRIMARY KEY REFERENCES begun(pass), ended TEXT NOT NULL, seconds REAL, outcome TEXT NOT NULL,",
    "effective TEXT, note TEXT, played TEXT"
  ),
  part = paste(
    "pass TEXT NOT NULL REFERENCES begun(pass), part INTEGER NOT NULL, arm TEXT NOT NULL, round INTEGER NOT NULL,",
    "seconds REAL, PRIMARY KEY (pass, part)"
  ),
  reading = paste(
    "pass TEXT NOT NULL REFERENCES pass(pass), part INTEGER NOT NULL DEFAULT 0, segment TEXT NOT NULL DEFAULT '',",
    "metric TEXT NOT NULL, value REAL, unit TEXT, better TEXT, origin TEXT NOT NULL,",
    "PRIMARY KEY (pass, part, segment, metric)"
  ),
  trace = "pass TEXT NOT NULL REFERENCES pass(pass), kind TEXT NOT NULL, file TEXT NOT NULL, length INTEGER, hash TEXT",
  pile = paste(
    "pass TEXT NOT NULL REFERENCES pass(pass), part INTEGER NOT NULL DEFAULT 0, segment TEXT NOT NULL DEFAULT '',",
    "level_ms REAL, share REAL, faster REAL, held REAL, frames REAL, near REAL, mean_ms REAL, jitter REAL,",
    "memory REAL, wander REAL, PRIMARY KEY (pass, part, segment)"
  ),
  limiting = paste(
    "pass TEXT NOT NULL REFERENCES pass(pass), part INTEGER NOT NULL DEFAULT 0, limiting TEXT NOT NULL, share REAL,",
    "evidence TEXT, PRIMARY KEY (pass, part)"
  ),
  pace = paste(
    "pass TEXT PRIMARY KEY REFERENCES pass(pass), from_s REAL NOT NULL, part_s REAL NOT NULL, begins REAL,",
    "levels TEXT NOT NULL"
  ),
  finding = "pass TEXT NOT NULL REFERENCES pass(pass), severity TEXT NOT NULL, code TEXT NOT NULL, detail TEXT",
  snapshot = "pass TEXT NOT NULL REFERENCES pass(pass), at TEXT NOT NULL, key TEXT NOT NULL, value TEXT",
  event = paste(
    "id INTEGER PRIMARY KEY, at TEXT NOT NULL, kind TEXT NOT NULL, pass TEXT, part INTEGER, detail TEXT,",
    "reason TEXT"
  ),
  taken = "hash TEXT PRIMARY KEY, file TEXT NOT NULL, pass TEXT NOT NULL REFERENCES pass(pass), at TEXT NOT NULL",
  question = paste(
    "id INTEGER PRIMARY KEY, at TEXT NOT NULL, pid INTEGER NOT NULL, boot TEXT NOT NULL, pass TEXT NOT NULL,",
    "kind TEXT NOT NULL, facts TEXT NOT NULL"
  ),
  # the first answer to a question is the only one
  answer = paste(
    "question INTEGER PRIMARY KEY REFERENCES question(id), at TEXT NOT NULL, via TEXT NOT NULL, said TEXT NOT NULL"
  )
)

numbered_columns <- function(columns) {
  stats::setNames(paste0("n INTEGER NOT NULL, line INTEGER NOT NULL, ", columns), names(columns))
}

#' `n` is the act that wrote a row, `line` its place among the rows of that act in its table
#' @noRd
ledger_tables <- c(
  # the one lock and counter of a study
  turn = "n INTEGER NOT NULL",
  act = paste(
    "n INTEGER PRIMARY KEY, act TEXT NOT NULL UNIQUE, kind TEXT NOT NULL, pass TEXT, part INTEGER, detail TEXT,",
    "reason TEXT, at TEXT NOT NULL"
  ),
  numbered_columns(c(
    tables_before[setdiff(names(tables_before), c("event", "taken", "handover"))],
    handover = paste(
      "at TEXT NOT NULL, batch INTEGER NOT NULL, start INTEGER NOT NULL, boot TEXT NOT NULL,",
      "done INTEGER NOT NULL"
    ),
    # a file whose pass was taken back may come in again
    taken = paste(
      "hash TEXT NOT NULL, file TEXT NOT NULL, pass TEXT NOT NULL REFERENCES pass(pass), at TEXT NOT NULL,",
      "PRIMARY KEY (hash, pass)"
    )
  ))
)

create_ledger <- function(con) {
  for (name in names(ledger_tables)) create_table(con, name, ledger_tables[[name]])
  DBI::dbExecute(con, "INSERT INTO turn (n) VALUES (0)")
  DBI::dbExecute(con, sprintf("PRAGMA user_version = %d", ledger_version))
}

# of what is left of a ledger of before
create_before <- function(con) {
  for (name in names(tables_before)) create_table(con, name)
  DBI::dbExecute(con, "PRAGMA user_version = 7")
}

create_table <- function(con, name, columns = tables_before[[name]]) {
  DBI::dbExecute(con, sprintf("CREATE TABLE %s (%s)", name, columns))
  # the turn alone is counted up in its place
  for (change in if (name == "turn") "DELETE" else c("UPDATE", "DELETE")) {
    DBI::dbExecute(con, sprintf(
      "CREATE TRIGGER keep_%s_%s BEFORE %s ON %s BEGIN SELECT RAISE(ABORT, 'a ledger only grows'); END",
      name, tolower(change), change, name
    ))
  }
}
