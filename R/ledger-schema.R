# The tables of a ledger. Nothing in them is ever changed or taken away: what a
# tester corrects is an event beside it, and triggers refuse anything else.

ledger_version <- 3L

ledger_tables <- c(
  plan = "version INTEGER PRIMARY KEY, stored TEXT NOT NULL, hash TEXT NOT NULL, text TEXT NOT NULL",
  seal = paste(
    "batch INTEGER PRIMARY KEY, plan INTEGER NOT NULL REFERENCES plan(version), hash TEXT NOT NULL,",
    "sealed TEXT NOT NULL"
  ),
  pass = paste(
    "pass TEXT PRIMARY KEY, batch INTEGER NOT NULL REFERENCES seal(batch), position REAL NOT NULL, block TEXT,",
    "start INTEGER, context TEXT, arm TEXT NOT NULL, workload TEXT NOT NULL, role TEXT NOT NULL,",
    "instead_of TEXT REFERENCES pass(pass)"
  ),
  handover = paste(
    "id INTEGER PRIMARY KEY, at TEXT NOT NULL, start INTEGER NOT NULL, boot TEXT NOT NULL,",
    "done INTEGER NOT NULL"
  ),
  begun = paste(
    "pass TEXT PRIMARY KEY REFERENCES pass(pass), started TEXT NOT NULL, pid INTEGER NOT NULL,",
    "boot TEXT NOT NULL, host TEXT NOT NULL"
  ),
  ended = paste(
    "pass TEXT PRIMARY KEY REFERENCES begun(pass), ended TEXT NOT NULL, seconds REAL, outcome TEXT NOT NULL,",
    "effective TEXT, detail TEXT, played TEXT"
  ),
  reading = paste(
    "pass TEXT NOT NULL REFERENCES pass(pass), workload TEXT NOT NULL, metric TEXT NOT NULL, value REAL,",
    "unit TEXT, better TEXT, PRIMARY KEY (pass, workload, metric)"
  ),
  trace = "pass TEXT NOT NULL REFERENCES pass(pass), kind TEXT NOT NULL, file TEXT NOT NULL, length INTEGER, hash TEXT",
  pile = "pass TEXT PRIMARY KEY REFERENCES pass(pass), level_ms REAL, share REAL, faster REAL, held REAL",
  segment_pile = paste(
    "pass TEXT NOT NULL REFERENCES pass(pass), workload TEXT NOT NULL, level_ms REAL, share REAL, faster REAL,",
    "held REAL, PRIMARY KEY (pass, workload)"
  ),
  snapshot = "pass TEXT NOT NULL REFERENCES pass(pass), at TEXT NOT NULL, key TEXT NOT NULL, value TEXT",
  event = "id INTEGER PRIMARY KEY, at TEXT NOT NULL, kind TEXT NOT NULL, pass TEXT, detail TEXT, reason TEXT",
  taken = "hash TEXT PRIMARY KEY, file TEXT NOT NULL, pass TEXT NOT NULL REFERENCES pass(pass), at TEXT NOT NULL"
)

create_ledger <- function(con) {
  for (name in names(ledger_tables)) create_table(con, name)
  DBI::dbExecute(con, "CREATE INDEX reading_by_pass ON reading(pass)")
  DBI::dbExecute(con, sprintf("PRAGMA user_version = %d", ledger_version))
}

create_table <- function(con, name) {
  DBI::dbExecute(con, sprintf("CREATE TABLE %s (%s)", name, ledger_tables[[name]]))
  for (change in c("UPDATE", "DELETE")) {
    DBI::dbExecute(con, sprintf(
      "CREATE TRIGGER keep_%s_%s BEFORE %s ON %s BEGIN SELECT RAISE(ABORT, 'a ledger only grows'); END",
      name, tolower(change), change, name
    ))
  }
}

# Steps from one version to the next, by number.
ledger_migrations <- list(
  # 2: whether a segment of a pass was held at a limit
  `2` = function(con) create_table(con, "segment_pile"),
  # 3: when the workload itself began, after the setting, the settling and the gates
  `3` = function(con) DBI::dbExecute(con, "ALTER TABLE ended ADD COLUMN played TEXT")
)

migrate_ledger <- function(con, path, version = ledger_version, steps = ledger_migrations) {
  found <- DBI::dbGetQuery(con, "PRAGMA user_version")[[1]]
  if (found > version) {
    abort_input(
      paste0(
        "this ledger is of version ", found, ", newer than this program knows (", version, ")"
      ), path,
      "install the newer version of honestmargin"
    )
  }
  for (next_version in seq_len(version - found) + found) {
    in_transaction(con, {
      steps[[as.character(next_version)]](con)
      DBI::dbExecute(con, sprintf("PRAGMA user_version = %d", next_version))
    })
  }
}
