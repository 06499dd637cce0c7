# The noise memory: one small database of the user's, with nothing personal in it.

noise_version <- 2L
# what version 2 has more: the level of the baseline
level_columns <- c(setting = "TEXT", arm = "TEXT", work = "TEXT", level = "REAL", level_passes = "INTEGER")

#' Where it lies; `NULL` where it is turned off
#' @noRd
noise_path <- function() {
  path <- Sys.getenv("HONESTMARGIN_NOISE", file.path(tools::R_user_dir("honestmargin", "data"), "noise.sqlite"))
  if (path != "off") path
}

# the machine is known by what is built in and by its name, of which only a hash is kept
machine_key <- function(facts) {
  built <- c(facts[["host"]], facts[["processor"]], round(as.numeric(facts[["memory MB"]]) / 1024))
  substr(cli::hash_sha256(paste(built, collapse = "|")), 1, 12)
}

open_noise <- function(path, write = FALSE) {
  if (!file.exists(path) && !write) {
    return(NULL)
  }
  if (!file.exists(path)) dir.create(dirname(path), showWarnings = FALSE, recursive = TRUE)
  con <- NULL
  tryCatch(
    {
      flags <- if (write) RSQLite::SQLITE_RWC else RSQLite::SQLITE_RO
      con <- DBI::dbConnect(RSQLite::SQLite(), path, flags = flags, synchronous = NULL)
      DBI::dbExecute(con, "PRAGMA busy_timeout = 3000")
      version <- DBI::dbGetQuery(con, "PRAGMA user_version")[[1]]
      if (version == 0 && write) create_noise(con)
      if (version == 1 && write) grow_noise(con)
      if (!version %in% c(0L, 1L, noise_version)) {
        abort_input(
          paste("the noise memory is of version", version, "and this program knows", noise_version), path,
          "use the newer program, or start a new one: HONESTMARGIN_NOISE=FILE"
        )
      }
      con
    },
    error = function(e) {
      if (!is.null(con)) DBI::dbDisconnect(con)
      abort_noise(e, path)
    }
  )
}

create_noise <- function(con) {
  in_transaction(con, {
    DBI::dbExecute(con, paste(
      "CREATE TABLE IF NOT EXISTS noise (machine TEXT NOT NULL, label TEXT, study TEXT NOT NULL,",
      "workload TEXT NOT NULL,",
      "context TEXT NOT NULL, metric TEXT NOT NULL, unit TEXT, scale TEXT NOT NULL, within REAL NOT NULL,",
      "df_within REAL NOT NULL, total REAL NOT NULL, df_total REAL NOT NULL, passes INTEGER NOT NULL,",
      "boots REAL, df_boots REAL, day TEXT NOT NULL,",
      "PRIMARY KEY (machine, workload, metric, context, study))"
    ))
    add_levels(con)
  })
}

# a memory of version 1 knows no levels: those rows stay without
grow_noise <- function(con) in_transaction(con, add_levels(con))

add_levels <- function(con) {
  for (column in setdiff(names(level_columns), DBI::dbListFields(con, "noise"))) {
    DBI::dbExecute(con, paste("ALTER TABLE noise ADD COLUMN", column, level_columns[[column]]))
  }
  DBI::dbExecute(con, sprintf("PRAGMA user_version = %d", noise_version))
}

abort_noise <- function(e, path) {
  if (inherits(e, "honestmargin_error")) stop(e)
  abort_stuck(
    paste("the noise memory cannot be used:", conditionMessage(e)), path,
    "damaged, locked or protected? Weighing goes on without it: HONESTMARGIN_NOISE=off"
  )
}

with_noise <- function(code, write = FALSE, path = noise_path()) {
  if (is.null(path)) {
    return(NULL)
  }
  con <- open_noise(path, write)
  if (is.null(con)) {
    return(NULL)
  }
  on.exit(DBI::dbDisconnect(con))
  tryCatch(code(con), error = function(e) abort_noise(e, path))
}

#' Rows of the memory
#' @param machine,workload `NULL` for all.
#' @return Data frame, or `NULL` where there is none.
#' @noRd
read_memory <- function(machine = NULL, workload = NULL) {
  with_noise(function(con) {
    wanted <- Filter(length, list(machine = machine, workload = workload))
    where <- vapply(names(wanted), function(column) {
      paste0(column, " IN (", paste(rep("?", length(wanted[[column]])), collapse = ", "), ")")
    }, "")
    rows <- DBI::dbGetQuery(con, paste(
      "SELECT * FROM noise", if (length(where)) paste("WHERE", paste(where, collapse = " AND ")),
      "ORDER BY machine, day, study, workload, metric"
    ), params = if (length(wanted)) unname(as.list(unlist(wanted))))
    rows$context[rows$context == ""] <- NA
    for (column in setdiff(names(level_columns), names(rows))) {
      rows[[column]] <- rep(if (level_columns[[column]] == "TEXT") NA_character_ else NA_real_, nrow(rows))
    }
    rows
  })
}

write_memory <- function(rows) {
  with_noise(write = TRUE, code = function(con) {
    rows$context <- empty_na(rows$context)
    columns <- DBI::dbListFields(con, "noise")
    in_transaction(con, {
      DBI::dbExecute(con, paste0(
        "INSERT OR REPLACE INTO noise (", paste(columns, collapse = ", "), ") VALUES (",
        paste(rep("?", length(columns)), collapse = ", "), ")"
      ), params = unname(as.list(rows[columns])))
    })
    nrow(rows)
  })
}

forget_memory <- function(machine = NULL, workload = NULL, study = NULL) {
  with_noise(write = TRUE, code = function(con) {
    wanted <- Filter(length, list(machine = machine, workload = workload, study = study))
    where <- if (length(wanted)) paste("WHERE", paste(names(wanted), "= ?", collapse = " AND "))
    DBI::dbExecute(con, paste("DELETE FROM noise", where), params = if (length(wanted)) unname(wanted))
  })
}
