# Steps from one version of the ledger to the next. Each is one transaction; what
# was stored is carried over, never thrown away.

ledger_migrations <- list(
  # 2: whether a segment of a pass was held at a limit
  `2` = function(con) {
    create_table(con, "segment_pile", paste(
      "pass TEXT NOT NULL REFERENCES pass(pass), workload TEXT NOT NULL, level_ms REAL, share REAL, faster REAL,",
      "held REAL, PRIMARY KEY (pass, workload)"
    ))
  },
  # 3: when the workload itself began, after the setting, the settling and the gates
  `3` = function(con) DBI::dbExecute(con, "ALTER TABLE ended ADD COLUMN played TEXT"),
  # 4: segment, part, attempt and batch are columns, no longer parts of names
  `4` = function(con) to_columns(con),
  # 5: what a run asked a person, and who answered
  `5` = function(con) {
    create_table(con, "question", paste(
      "id INTEGER PRIMARY KEY, at TEXT NOT NULL, pid INTEGER NOT NULL, boot TEXT NOT NULL, pass TEXT NOT NULL,",
      "kind TEXT NOT NULL, facts TEXT NOT NULL"
    ))
    create_table(con, "answer", paste(
      "question INTEGER PRIMARY KEY REFERENCES question(id), at TEXT NOT NULL, via TEXT NOT NULL, said TEXT NOT NULL"
    ))
  },
  # 6: how each pass moves along
  `6` = function(con) {
    create_table(con, "pace", paste(
      "pass TEXT PRIMARY KEY REFERENCES pass(pass), from_s REAL NOT NULL, part_s REAL NOT NULL, begins REAL,",
      "levels TEXT NOT NULL"
    ))
  },
  # 7: whether the frames of a pass are each on its own
  `7` = function(con) {
    more <- c("frames", "near", "mean_ms", "jitter", "memory", "wander")
    for (column in setdiff(more, DBI::dbListFields(con, "pile"))) {
      DBI::dbExecute(con, sprintf("ALTER TABLE pile ADD COLUMN %s REAL", column))
    }
  },
  # 8: every write is an act with a number
  `8` = function(con) number_acts(con)
)

migrate_ledger <- function(con, path, version = ledger_version, steps = ledger_migrations) {
  found <- DBI::dbGetQuery(con, "PRAGMA user_version")[[1]]
  if (found > version) {
    abort_input(
      paste0("this ledger is of version ", found, ", newer than this program knows (", version, ")"), path,
      "install the newer version of honestmargin"
    )
  }
  if (found == version) {
    return(invisible())
  }
  # tables are made anew, and those that refer to them refer to the new ones
  DBI::dbExecute(con, "PRAGMA foreign_keys = OFF")
  on.exit(DBI::dbExecute(con, "PRAGMA foreign_keys = ON"))
  for (next_version in seq_len(version - found) + found) {
    in_transaction(con, {
      steps[[as.character(next_version)]](con)
      DBI::dbExecute(con, sprintf("PRAGMA user_version = %d", next_version))
    })
  }
}

# This is the one place that takes apart what names said before version 4: "p003.2" was
# the second flip of p003, "p001b" its second try, "r2.1" the first block of batch 2, and a
# reading of a segment stood under "workload/segment".
to_columns <- function(con) {
  old <- lapply(
    stats::setNames(nm = c("pass", "handover", "begun", "ended", "reading", "trace", "pile", "segment_pile", "event")),
    rows_as_written,
    con = con
  )
  whole <- old$pass$pass
  part_of <- sub("[.][0-9]+$", "", old$pass$pass)
  is_part <- part_of != old$pass$pass & part_of %in% old$pass$pass
  at <- match(old$pass$pass[is_part], old$pass$pass)
  parts <- data.frame(
    id = whole[is_part], pass = part_of[is_part], part = as.integer(sub("^.*[.]", "", whole[is_part])),
    arm = old$pass$arm[is_part], round = as.integer(sub("^.*[.]", "", old$pass$block[is_part])),
    seconds = old$ended$seconds[match(whole[is_part], old$ended$pass)]
  )
  pass <- old$pass[!is_part, , drop = FALSE]
  pass$attempt <- 1L
  again <- which(!is.na(pass$instead_of))
  pass$attempt[again] <- 1L + stats::ave(again, pass$instead_of[again], FUN = seq_along)
  prefix <- paste0("r", pass$batch, ".")
  later <- pass$batch > 1 & startsWith(empty_na(pass$block), prefix)
  pass$block[later] <- substring(pass$block[later], nchar(prefix[later]) + 1)
  pass$start <- as.integer(pass$start - 1000L * (pass$batch - 1L))
  pass$extra <- as.integer(pass$pass %in% old$event$pass[old$event$kind == "extra pass"])
  moved <- function(table) {
    row <- match(table$pass, parts$id)
    table$part <- ifelse(is.na(row), 0L, parts$part[row])
    table$pass <- ifelse(is.na(row), table$pass, parts$pass[row])
    table
  }
  reading <- moved(old$reading)
  own <- old$pass$workload[match(old$reading$pass, whole)]
  reading$segment <- ifelse(reading$workload == own, "", substring(reading$workload, nchar(own) + 2))
  traced <- reading$pass %in% moved(old$trace)$pass
  reading$origin <- ifelse(traced & reading$metric %in% captured_ids(), "captured", "typed")
  reading$workload <- NULL
  pile <- moved(old$pile)
  pile$segment <- rep("", nrow(pile))
  segments <- moved(old$segment_pile)
  workload <- old$pass$workload[match(segments$pass, whole)]
  segments$segment <- substring(segments$workload, nchar(workload) + 2)
  segments$workload <- NULL
  ended <- old$ended[!old$ended$pass %in% parts$id, , drop = FALSE]
  event <- moved(old$event)
  event$part[event$part == 0] <- NA
  event$detail <- vapply(seq_len(nrow(event)), function(i) {
    placed_event(event$kind[i], event$detail[i], pass$workload[match(event$pass[i], pass$pass)])
  }, "")
  handover <- old$handover
  handover$batch <- handover$start %/% 1000L + 1L
  handover$start <- handover$start %% 1000L
  remake_tables(con, list(
    pass = pass, handover = handover, begun = old$begun[!old$begun$pass %in% parts$id, , drop = FALSE],
    ended = data.frame(
      ended[c("pass", "ended", "seconds", "outcome", "effective", "played")],
      note = rep(NA_character_, nrow(ended))
    ),
    part = parts[c("pass", "part", "arm", "round", "seconds")], reading = reading,
    # the traces of flips were cut out of those of their passes, which are there
    trace = old$trace[!old$trace$pass %in% parts$id, , drop = FALSE],
    pile = rbind(pile, segments[names(pile)]), limiting = NULL, finding = noted_before(ended), event = event
  ))
}

rows_as_written <- function(name, con) DBI::dbGetQuery(con, paste("SELECT * FROM", name, "ORDER BY rowid"))

remake_tables <- function(con, tables) {
  for (name in setdiff(names(tables), c("part", "finding", "limiting"))) DBI::dbExecute(con, paste("DROP TABLE", name))
  DBI::dbExecute(con, "DROP TABLE segment_pile")
  for (name in names(tables)) {
    create_table(con, name)
    insert_rows(con, name, tables[[name]])
  }
}

# a correction spoke of "workload/segment" too
placed_event <- function(kind, detail, workload) {
  if (kind != "correct" || is.na(detail)) {
    return(detail)
  }
  said <- jsonlite::fromJSON(detail)
  place <- empty_to(said$workload, workload)
  said$workload <- NULL
  said$segment <- if (place == workload) NA_character_ else substring(place, nchar(workload) + 2)
  detail_json(said)
}

# what the record of a pass said in words, and where it came from
noted_before <- function(ended) {
  detail <- empty_na(ended$detail)
  from <- regmatches(detail, regexpr("taken from [^;]*$", detail))
  took <- grepl("taken from [^;]*$", detail)
  rest <- sub("(^|; )taken from [^;]*$", "", detail)
  rbind(
    data.frame(
      pass = ended$pass[took], severity = rep("note", sum(took)), code = rep("taken_from", sum(took)),
      detail = vapply(
        sub("^taken from ", "", from), function(file) detail_json(list(file = file)), "",
        USE.NAMES = FALSE
      )
    ),
    data.frame(
      pass = ended$pass[nzchar(rest)], severity = rep("note", sum(nzchar(rest))), code = rep(
        "noted", sum(nzchar(rest))
      ),
      detail = vapply(rest[nzchar(rest)], function(text) detail_json(list(text = text)), "", USE.NAMES = FALSE)
    )
  )
}
