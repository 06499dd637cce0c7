# What is written into a ledger, each act whole or not at all.

#' @export
store_event.honestmargin_sqlite <- function(store, kind, pass = NA_character_, part = NA_integer_, detail = NULL,
                                            reason = NA_character_) {
  append_rows(store$con, "event", data.frame(
    at = clock_now(), kind = kind, pass = pass, part = part, reason = reason,
    detail = if (is.null(detail)) NA_character_ else detail_json(detail)
  ))
}

detail_json <- function(values) as.character(jsonlite::toJSON(values, auto_unbox = TRUE, digits = NA, na = "null"))

#' @export
store_seal.honestmargin_sqlite <- function(store, plan, fresh = FALSE) {
  version <- put_plan(store, attr(plan, "text"))
  sealed <- DBI::dbGetQuery(store$con, "SELECT max(batch) AS last FROM seal")$last
  if (!is.na(sealed) && !fresh) {
    return(invisible(sealed))
  }
  batch <- if (is.na(sealed)) 1L else sealed + 1L
  passes <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM pass")$n
  schedule <- plan_schedule(plan, batch, after = passes)
  hash <- DBI::dbGetQuery(store$con, "SELECT hash FROM plan WHERE version = ?", list(version))$hash
  in_transaction(store$con, {
    append_rows(store$con, "seal", data.frame(batch = batch, plan = version, hash = hash, sealed = clock_now()))
    append_rows(store$con, "pass", schedule)
    # a fresh batch may have more blocks than the plan's text says
    if (fresh) store_event(store, "fresh batch", detail = list(batch = batch, blocks = plan$blocks))
  })
  batch
}

# a change after the seal becomes an event
put_plan <- function(store, text) {
  hash <- cli::hash_sha256(text)
  known <- DBI::dbGetQuery(store$con, "SELECT version, hash FROM plan ORDER BY version DESC LIMIT 1")
  if (nrow(known) && known$hash == hash) {
    return(known$version)
  }
  version <- if (nrow(known)) known$version + 1L else 1L
  in_transaction(store$con, {
    append_rows(store$con, "plan", data.frame(version = version, stored = clock_now(), hash = hash, text = text))
    if (version > 1) {
      store_event(store, "plan changed",
        detail = list(version = version), reason = "the plan was changed after the seal"
      )
    }
  })
  version
}

#' @export
store_begin.honestmargin_sqlite <- function(store, pass, machine) {
  append_rows(store$con, "begun", list2DF(list(
    pass = pass, started = clock_now(), pid = Sys.getpid(), boot = machine$boot, host = machine$host
  )))
}

#' @export
store_end.honestmargin_sqlite <- function(store, record) {
  of_pass <- function(rows) if (NROW(rows)) list2DF(c(list(pass = rep(record$pass, nrow(rows))), rows))
  con <- store$con
  # its traces are on the disk already, its own row comes last
  in_transaction(con, {
    append_rows(con, "reading", key_columns(of_pass(record$readings)))
    append_rows(con, "trace", record$traces)
    append_rows(con, "pile", key_columns(of_pass(record$piles)))
    append_rows(con, "limiting", limiting_stored(of_pass(record$limits)))
    append_rows(con, "pace", pace_stored(of_pass(record$pace)))
    append_rows(con, "finding", finding_rows(record$findings, record$pass))
    append_rows(con, "snapshot", of_pass(record$snapshots))
    append_rows(con, "taken", taken_anew(store, record$taken))
    append_rows(con, "part", of_pass(record$parts))
    append_rows(con, "ended", list2DF(list(
      pass = record$pass, ended = clock_now(), seconds = empty_to(record$seconds, NA_real_), outcome = record$outcome,
      effective = empty_to(record$effective, NA_character_), note = empty_to(record$note, NA_character_),
      played = empty_to(record$played, NA_character_)
    )))
  })
}

limiting_stored <- function(rows) {
  if (!is.null(rows)) {
    rows$part <- ifelse(is.na(rows$part), 0L, rows$part)
    rows$evidence <- vapply(rows$evidence, detail_json, "")
  }
  rows
}

pace_stored <- function(rows) {
  if (!is.null(rows)) rows$levels <- vapply(rows$levels, function(v) detail_json(v), "")
  rows
}

finding_rows <- function(findings, pass) {
  if (NROW(findings)) {
    data.frame(
      pass = pass, severity = findings$severity, code = findings$code,
      detail = vapply(findings$values, function(v) if (length(v)) detail_json(v) else NA_character_, "")
    )
  }
}

#' @export
store_again.honestmargin_sqlite <- function(store, pass, reason, most) {
  root <- if (is.na(pass$instead_of)) pass$pass else pass$instead_of
  tries <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM pass WHERE instead_of = ?", list(root))$n
  if (tries >= most) {
    return(FALSE)
  }
  new <- store_pass(store, root)
  new[c("pass", "position", "attempt", "instead_of")] <- list(next_id(store), new$position + 0.001, tries + 2L, root)
  in_transaction(store$con, {
    append_rows(store$con, "pass", new)
    store_event(store, "run again", new$pass, detail = list(instead_of = root), reason = reason)
  })
  TRUE
}

next_id <- function(store) {
  n <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM pass")$n
  known <- DBI::dbGetQuery(store$con, "SELECT pass FROM pass")$pass
  id <- sprintf("p%03d", n + 1)
  # ids of before version 4 may be in the way
  while (id %in% known) id <- sprintf("p%03d", n <- n + 1)
  id
}

#' @export
store_extra.honestmargin_sqlite <- function(store, place) {
  there <- DBI::dbGetQuery(store$con, "SELECT * FROM pass")
  batch <- max(there$batch)
  if (is.na(place$block) && place$role == "counted") place$block <- further_block(there[there$batch == batch, ], place)
  pass <- data.frame(
    pass = next_id(store), batch = batch, position = max(there$position) + 1, block = as.character(place$block),
    start = NA_integer_,
    context = place$context, arm = place$arm, workload = place$workload, role = place$role, attempt = 1L,
    instead_of = NA_character_, extra = 1L
  )
  append_rows(store$con, "pass", pass)
  store_event(store, "extra pass", pass$pass, detail = place, reason = "no scheduled pass of this kind was left")
  pass
}

# passes beyond the plan are further blocks: the first of each arm make one, the second ones the next
further_block <- function(there, place) {
  if (all(is.na(there$block))) {
    return(NA_character_)
  }
  number <- suppressWarnings(as.integer(there$block))
  planned <- max(0L, number[there$extra == 0], na.rm = TRUE)
  alike <- there$arm == place$arm & there$workload == place$workload & there$context %in% place$context
  as.character(max(planned, number[alike], na.rm = TRUE) + 1L)
}

#' @export
store_extend.honestmargin_sqlite <- function(store, blocks, batch, said = TRUE) {
  there <- DBI::dbGetQuery(store$con, "SELECT * FROM pass WHERE batch = ?", list(batch))
  done <- DBI::dbGetQuery(
    store$con, "SELECT count(*) AS n FROM ended JOIN pass USING (pass) WHERE batch = ?", list(batch)
  )$n
  plan <- store_plan(store, batch)
  if (is_search(plan)) plan <- compared_plan(plan, found_and_compared(store, plan))
  plan$blocks <- blocks
  before <- suppressWarnings(max(0L, as.integer(there$block), na.rm = TRUE))
  plan$seed <- plan$seed + 100 * before
  all <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n, max(position) AS last FROM pass")
  new <- plan_schedule(plan, batch, after = all$n)
  if (plan$setting$restart != "machine") new <- new[new$role != "warm_up", , drop = FALSE]
  known <- DBI::dbGetQuery(store$con, "SELECT pass FROM pass")$pass
  ids <- sprintf("p%03d", all$n + seq_len(nrow(new) + length(known)))
  new$pass <- setdiff(ids, known)[seq_len(nrow(new))]
  new$block <- ifelse(is.na(new$block), NA, as.character(as.integer(new$block) + before))
  new$start <- new$start + max(0L, there$start, na.rm = TRUE)
  new$position <- all$last + seq_len(nrow(new))
  new$extra <- 1L
  in_transaction(store$con, {
    append_rows(store$con, "pass", new)
    store_event(store, if (said) "extended" else "block added",
      detail = list(blocks = blocks, after = done, first = new$pass[1])
    )
  })
  nrow(new)
}

#' @export
store_rung.honestmargin_sqlite <- function(store, place, asked = FALSE) {
  last <- DBI::dbGetQuery(store$con, "SELECT max(position) AS at FROM pass")$at
  pass <- data.frame(
    pass = next_id(store), batch = place$batch, position = max(0, last, na.rm = TRUE) + 1, block = NA_character_,
    start = next_start(store, place), context = NA_character_, arm = place$arm, workload = place$workload,
    role = place$role, attempt = 1L, instead_of = NA_character_, extra = as.integer(asked)
  )
  append_rows(store$con, "pass", pass)
  pass
}

# where the machine starts anew for each value, passes of one value in a row share the start
next_start <- function(store, place) {
  last <- DBI::dbGetQuery(store$con, "SELECT arm, start FROM pass ORDER BY position DESC LIMIT 1")
  if (!nrow(last)) 1L else as.integer(last$start + (last$arm != place$arm))
}

#' @export
store_compare.honestmargin_sqlite <- function(store, schedule) {
  all <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n, max(position) AS last, max(start) AS start FROM pass")
  schedule$pass <- sprintf("p%03d", all$n + seq_len(nrow(schedule)))
  schedule$position <- all$last + seq_len(nrow(schedule))
  schedule$start <- schedule$start + all$start
  schedule$block <- as.character(schedule$block)
  in_transaction(store$con, append_rows(store$con, "pass", schedule))
}

# of a search further blocks are those of the comparison at its end
found_and_compared <- function(store, plan) {
  arms <- setdiff(store_compared(store), plan$setting$baseline)
  if (!length(arms)) {
    abort_input("nothing is compared yet", store$folder, paste("see how far it is: honestmargin search", store$folder))
  }
  utils::tail(arms, 1)
}

#' @export
store_hand_over.honestmargin_sqlite <- function(store, pass, boot, done) {
  append_rows(store$con, "handover", data.frame(
    at = clock_now(), batch = pass$batch, start = pass$start, boot = boot, done = as.integer(done)
  ))
}

#' @export
store_put_capture.honestmargin_sqlite <- function(store, capture) {
  id <- capture$pass$pass
  put <- function(kind, table) if (NROW(table)) write_trace(store$folder, id, kind, table)
  rbind(
    put("frames", capture$frames),
    # all windows of a program that had several: only one of them is read
    put("windows", capture$windows), put("marks", capture$marks), put("sensors", capture$sensors)
  )
}

#' @export
store_add_sensors.honestmargin_sqlite <- function(store, kept, taken) {
  traces <- lapply(kept, function(one) {
    nth <- DBI::dbGetQuery(
      store$con, "SELECT count(*) AS n FROM trace WHERE pass = ? AND kind = 'sensors'", list(one$pass)
    )$n
    write_trace(store$folder, one$pass, "sensors", one$sensors, nth)
  })
  has <- ledger_table(store$con, "reading")
  held <- ledger_table(store$con, "limiting")
  key <- function(rows) paste(rows$pass, rows$part, rows$segment, rows$metric, sep = "\r")
  in_transaction(store$con, {
    for (i in seq_along(kept)) {
      append_rows(store$con, "trace", traces[[i]])
      # what was read from frames and other sensors stands
      rows <- if (NROW(kept[[i]]$readings)) key_columns(cbind(pass = kept[[i]]$pass, kept[[i]]$readings))
      if (!is.null(rows)) append_rows(store$con, "reading", rows[!key(rows) %in% key(has), , drop = FALSE])
      if (!kept[[i]]$pass %in% held$pass) {
        append_rows(store$con, "limiting", limiting_stored(cbind(pass = kept[[i]]$pass, kept[[i]]$limits)))
      }
      store_event(store, "sensors added", kept[[i]]$pass, reason = paste(nrow(kept[[i]]$sensors), "samples"))
    }
    append_rows(store$con, "taken", taken_anew(store, taken))
  })
}

# a file that came in from elsewhere, known again by its content
taken_row <- function(path, pass, hash = cli::hash_file_sha256(path)) {
  data.frame(hash = hash, file = basename(path), pass = pass, at = clock_now())
}

#' @export
store_note_taken.honestmargin_sqlite <- function(store, taken) {
  append_rows(store$con, "taken", taken_anew(store, taken))
}

# the row of a taking that was undone stays
taken_anew <- function(store, taken) {
  if (!NROW(taken)) {
    return(taken)
  }
  again <- taken$hash %in% ledger_table(store$con, "taken")$hash
  if (any(again)) taken$hash[again] <- paste0(taken$hash, "#", taken$pass)[again]
  taken
}

#' @export
store_undo.honestmargin_sqlite <- function(store, pass, reason) {
  row <- store_pass(store, pass)
  ran_here <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM snapshot WHERE pass = ?", list(pass))$n > 0
  if (ran_here) {
    abort_input(
      paste0("pass ", pass, " was run here, and what was measured stays"), store$folder,
      paste0("it can be left out, with a reason: honestmargin exclude STUDY ", pass)
    )
  }
  store_act(store, {
    store_event(store, "undo", pass, reason = reason)
    # its place in the plan is open again
    if (row$extra == 0) store_again(store, row, "undone", most = Inf)
  })
}

#' @export
store_act.honestmargin_sqlite <- function(store, code) in_transaction(store$con, code)

# a ledger of before both writes were one act may lack the second
#' @export
store_holes.honestmargin_sqlite <- function(store) {
  DBI::dbGetQuery(store$con, "
    SELECT pass.*, CASE WHEN undone.pass IS NOT NULL THEN 'undone' ELSE ended.outcome END AS why
    FROM pass JOIN ended ON ended.pass = pass.pass
    LEFT JOIN (SELECT DISTINCT pass FROM event WHERE kind = 'undo') AS undone ON undone.pass = pass.pass
    WHERE pass.extra = 0 AND pass.role IN ('counted', 'warm_up')
    AND (undone.pass IS NOT NULL OR (
      pass.pass IN (SELECT pass FROM begun) AND (ended.outcome = 'interrupted' OR (ended.outcome = 'lost' AND
        pass.pass IN (SELECT pass FROM finding WHERE code IN ('runner_ended', 'machine_restarted')))))
    )
    AND NOT EXISTS (SELECT 1 FROM pass AS later
      WHERE later.instead_of = coalesce(pass.instead_of, pass.pass) AND later.attempt > pass.attempt)
    ORDER BY pass.batch, pass.position")
}
