# From version 7 to 8: what was written before acts had numbers is numbered, in the order of the clock
# between tables and in the order of writing within each.

number_acts <- function(con) {
  before <- lapply(stats::setNames(nm = names(tables_before)), rows_as_written, con = con)
  acts <- acts_before(before)
  for (name in names(tables_before)) DBI::dbExecute(con, paste("DROP TABLE", name))
  for (name in names(ledger_tables)) create_table(con, name, ledger_tables[[name]])
  insert_rows(con, "turn", data.frame(n = nrow(acts)))
  insert_rows(con, "act", acts[c("n", "act", "kind", "pass", "part", "detail", "reason", "at")])
  written <- rows_of_acts(before, acts)
  for (name in setdiff(names(ledger_tables), c("turn", "act"))) insert_rows(con, name, written[[name]])
}

# One act for each event, and for each row that had none beside it.
acts_before <- function(before) {
  of_table <- function(table, kind, at, id = seq_along(at), rank = 0, pass = before[[table]]$pass) {
    if (length(at)) {
      data.frame(
        table = table, row = seq_along(at), kind = kind, at = at,
        act = vapply(paste(kind, id), act_id, "", USE.NAMES = FALSE), after = cummax(stamp_seconds(at)), rank = rank,
        pass = empty_to(pass, NA_character_), part = NA_integer_, detail = NA_character_, reason = NA_character_
      )
    }
  }
  event <- before$event
  plans <- before$plan
  batches <- before$seal
  said_plan <- event_says(event, "plan changed", "version")
  said_batch <- event_says(event, "fresh batch", "batch")
  acts <- rbind(
    of_table("plan", "plan", plans$stored, plans$version)[!plans$version %in% said_plan, ],
    of_table("seal", "seal", batches$sealed, batches$batch)[!batches$batch %in% said_batch, ],
    of_table("event", event$kind, event$at),
    of_table("handover", "hand over", before$handover$at, pass = NULL),
    of_table("question", "question", before$question$at),
    of_table("answer", "answer", before$answer$at, before$answer$question, pass = NULL),
    # at one moment a pass begins before it ends, and ends before the next begins
    of_table("begun", "begin", before$begun$started, before$begun$pass, 2 * seq_along(before$begun$pass)),
    of_table("ended", "end", before$ended$ended, before$ended$pass, 2 * match(before$ended$pass, before$begun$pass) + 1)
  )
  at <- acts$table == "event"
  acts[at, c("part", "detail", "reason")] <- event[c("part", "detail", "reason")]
  acts <- acts[order(acts$after, acts$rank, match(acts$table, c("plan", "seal", "event")), acts$row), ]
  acts$n <- seq_len(nrow(acts))
  acts
}

event_says <- function(event, kind, key) {
  said <- lapply(event$detail[event$kind == kind], jsonlite::fromJSON)
  vapply(said, function(one) as.integer(one[[key]]), 1L)
}

# Each table with the act that wrote each row. A row that no event tells of came with the seal of its batch.
rows_of_acts <- function(before, acts) {
  own <- function(table) acts$n[match(seq_len(nrow(before[[table]])), replace(acts$row, acts$table != table, NA))]
  event <- before$event
  event$n <- own("event")
  of_event <- function(kind, key, values) {
    rows <- which(event$kind == kind)
    event$n[rows[match(values, event_says(event, kind, key))]]
  }
  first_known <- function(...) Reduce(function(a, b) ifelse(is.na(a), b, a), list(...))
  n <- list(
    plan = first_known(own("plan"), of_event("plan changed", "version", before$plan$version)),
    seal = first_known(own("seal"), of_event("fresh batch", "batch", before$seal$batch)),
    begun = own("begun"), ended = own("ended"), handover = own("handover"), question = own("question"),
    answer = own("answer")
  )
  n$pass <- acts_of_passes(before$pass, event, n$seal[match(before$pass$batch, before$seal$batch)])
  ended <- n$ended[match(before$pass$pass, before$ended$pass)]
  begun <- n$begun[match(before$pass$pass, before$begun$pass)]
  last <- stats::setNames(first_known(ended, begun, n$pass), before$pass$pass)
  with_pass <- setdiff(names(before), c(names(n), "event"))
  n[with_pass] <- lapply(before[with_pass], acts_of_rows, last = last, added = event[event$kind == "sensors added", ])
  before$handover$id <- NULL
  # a file that came in once more had its pass behind its hash
  before$taken$hash <- sub("#.*", "", before$taken$hash)
  rows <- lapply(names(n), function(name) {
    table <- before[[name]]
    table$n <- n[[name]]
    table$line <- seq_len(nrow(table))
    table
  })
  stats::setNames(rows, names(n))
}

acts_of_passes <- function(pass, event, sealed) {
  own <- event$n[match(pass$pass, replace(event$pass, !event$kind %in% c("run again", "extra pass"), NA))]
  blocks <- event[event$kind %in% c("extended", "block added"), ]
  first <- vapply(lapply(blocks$detail, jsonlite::fromJSON), `[[`, "", "first")
  # those of a block that was added follow its first one
  group <- cumsum(pass$pass %in% first)
  begins <- pass$pass[match(group, group)]
  added <- replace(blocks$n[match(begins, first)], pass$extra == 0, NA)
  ifelse(is.na(own), ifelse(is.na(added), sealed, added), own)
}

# what was written of a pass came when it ended, or with sensors that were added later
acts_of_rows <- function(table, last, added) {
  run <- rle(as.character(table$pass))
  nth <- stats::ave(seq_along(run$values), run$values, FUN = seq_along) - 1
  later <- mapply(function(pass, k) if (k) added$n[added$pass %in% pass][k] else NA_integer_, run$values, nth)
  n <- ifelse(is.na(later), last[run$values], later)
  rep(as.integer(n), run$lengths)
}
