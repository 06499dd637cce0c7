# What is written into a ledger, each act whole or not at all.

#' @export
store_event.honestmargin_ledger <- function(store, kind, pass = NA_character_, part = NA_integer_, detail = NULL,
                                            reason = NA_character_, once = NULL) {
  about <- list(pass = pass, part = part, detail = detail, reason = reason)
  write_act(store, kind, about, id = if (is.null(once)) act_id() else act_id(kind, once))
}

#' @export
store_seal.honestmargin_ledger <- function(store, plan, fresh = FALSE) {
  hold_turn(store, {
    version <- put_plan(store, attr(plan, "text"))
    sealed <- DBI::dbGetQuery(store$con, "SELECT max(batch) AS last FROM seal")$last
    if (is.na(sealed) || fresh) seal_batch(store, plan, version, 1L + max(0L, sealed, na.rm = TRUE), fresh) else sealed
  })
}

seal_batch <- function(store, plan, version, batch, fresh) {
  passes <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM pass")$n
  hash <- DBI::dbGetQuery(store$con, "SELECT hash FROM plan WHERE version = $1", list(version))$hash
  pairs <- if (is_blind(plan)) seal_blind(store, plan, batch, passes)
  # a fresh batch may have more blocks than the plan's text says
  detail <- c(list(batch = batch), if (fresh) list(blocks = plan$blocks), list(method = judging_method))
  about <- list(detail = detail)
  write_act(store, if (fresh) "fresh batch" else "seal", about, id = act_id("seal", batch), rows = list(
    seal = data.frame(batch = batch, plan = version, hash = hash, sealed = clock_now()),
    pass = if (is.null(pairs)) plan_schedule(plan, batch, after = passes) else pairs
  ))
  batch
}

# a change after the seal is told
put_plan <- function(store, text) {
  hash <- cli::hash_sha256(text)
  known <- DBI::dbGetQuery(store$con, "SELECT version, hash FROM plan ORDER BY version DESC LIMIT 1")
  if (nrow(known) && known$hash == hash) {
    return(known$version)
  }
  version <- 1L + max(0L, known$version)
  about <- list(detail = list(version = version), reason = "the plan was changed after the seal")
  write_act(
    store, if (version > 1) "plan changed" else "plan", if (version > 1) about, id = act_id("plan", version),
    rows = list(plan = data.frame(version = version, stored = clock_now(), hash = hash, text = text))
  )
  version
}

#' @export
store_begin.honestmargin_ledger <- function(store, pass, machine) {
  fresh <- write_act(store, "begin", list(pass = pass), id = act_id("begin", pass), rows = list(begun = list2DF(list(
    pass = pass, started = clock_now(), pid = Sys.getpid(), boot = machine$boot, host = machine$host
  ))))
  if (isFALSE(fresh)) abort_twice(store, pass, "begun")
}

abort_twice <- function(store, pass, what) {
  abort_stuck(
    paste0("pass ", pass, " was ", what, " before"), store$folder, "is it run twice at once? Stop one, and run again"
  )
}

#' @export
store_end.honestmargin_ledger <- function(store, record) {
  of_pass <- function(rows) if (NROW(rows)) list2DF(c(list(pass = rep(record$pass, nrow(rows))), rows))
  # its traces are on the disk already, its own row comes last
  fresh <- write_act(store, "end", list(pass = record$pass), id = act_id("end", record$pass), rows = list(
    reading = key_columns(of_pass(record$readings)), trace = record$traces, pile = key_columns(of_pass(record$piles)),
    limiting = limiting_stored(of_pass(record$limits)), pace = pace_stored(of_pass(record$pace)),
    finding = finding_rows(record$findings, record$pass), snapshot = of_pass(record$snapshots), taken = record$taken,
    part = of_pass(record$parts),
    ended = list2DF(list(
      pass = record$pass, ended = clock_now(), seconds = empty_to(record$seconds, NA_real_), outcome = record$outcome,
      effective = empty_to(record$effective, NA_character_), note = empty_to(record$note, NA_character_),
      played = empty_to(record$played, NA_character_)
    ))
  ))
  if (isFALSE(fresh)) abort_twice(store, record$pass, "ended")
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
store_hand_over.honestmargin_ledger <- function(store, pass, boot, done) {
  write_act(store, "hand over", rows = list(handover = data.frame(
    at = clock_now(), batch = pass$batch, start = pass$start, boot = boot, done = as.integer(done)
  )))
}

#' @export
store_put_capture.honestmargin_ledger <- function(store, capture) {
  id <- capture$pass$pass
  put <- function(kind, table) if (NROW(table)) write_trace(store$folder, id, kind, table)
  rbind(
    put("frames", capture$frames),
    # all windows of a program that had several: only one of them is read
    put("windows", capture$windows), put("marks", capture$marks), put("sensors", capture$sensors)
  )
}

#' @export
store_add_sensors.honestmargin_ledger <- function(store, kept, taken) {
  hold_turn(store, {
    for (one in kept) add_sensors_to(store, one)
    store_note_taken(store, taken)
  })
}

add_sensors_to <- function(store, one) {
  of <- function(sql) DBI::dbGetQuery(store$con, paste(sql, "WHERE pass = $1"), list(one$pass))
  nth <- sum(of("SELECT kind FROM trace")$kind == "sensors")
  key <- function(rows) paste(rows$part, rows$segment, rows$metric, sep = "\r")
  # what was read from frames and other sensors stands
  has <- of("SELECT part, segment, metric FROM reading")
  rows <- if (NROW(one$readings)) key_columns(cbind(pass = one$pass, one$readings))
  if (!is.null(rows)) rows <- rows[!key(rows) %in% key(has), , drop = FALSE]
  known <- nrow(of("SELECT pass FROM limiting")) > 0
  about <- list(pass = one$pass, reason = paste(nrow(one$sensors), "samples"))
  write_act(store, "sensors added", about, list(
    trace = write_trace(store$folder, one$pass, "sensors", one$sensors, nth), reading = rows,
    limiting = if (!known) limiting_stored(cbind(pass = one$pass, one$limits))
  ))
}

# a file that came in from elsewhere, known again by its content
taken_row <- function(path, pass, hash = cli::hash_file_sha256(path)) {
  data.frame(hash = hash, file = basename(path), pass = pass, at = clock_now())
}

#' @export
store_note_taken.honestmargin_ledger <- function(store, taken) {
  if (NROW(taken)) write_act(store, "file taken", list(pass = taken$pass[1]), list(taken = taken))
}

#' @export
store_undo.honestmargin_ledger <- function(store, pass, reason) {
  row <- store_pass(store, pass)
  ran_here <- DBI::dbGetQuery(store$con, "SELECT count(*) AS n FROM snapshot WHERE pass = $1", list(pass))$n > 0
  if (ran_here) {
    abort_input(
      paste0("pass ", pass, " was run here, and what was measured stays"), store$folder,
      paste0("it can be left out, with a reason: honestmargin exclude STUDY ", pass)
    )
  }
  hold_turn(store, {
    store_event(store, "undo", pass, reason = reason)
    # its place in the plan is open again
    if (row$extra == 0) store_again(store, row, "undone", most = Inf)
  })
}

# a ledger of before both writes were one act may lack the second
#' @export
store_holes.honestmargin_ledger <- function(store) {
  DBI::dbGetQuery(store$con, "
    SELECT pass.*, CASE WHEN undone.pass IS NOT NULL THEN 'undone' ELSE ended.outcome END AS why
    FROM pass JOIN ended ON ended.pass = pass.pass
    LEFT JOIN (SELECT DISTINCT pass FROM act WHERE kind = 'undo') AS undone ON undone.pass = pass.pass
    WHERE pass.extra = 0 AND pass.role IN ('counted', 'warm_up')
    AND (undone.pass IS NOT NULL OR (
      pass.pass IN (SELECT pass FROM begun) AND (ended.outcome = 'interrupted' OR (ended.outcome = 'lost' AND
        pass.pass IN (SELECT pass FROM finding WHERE code IN ('runner_ended', 'machine_restarted')))))
    )
    AND NOT EXISTS (SELECT 1 FROM pass AS later
      WHERE later.instead_of = coalesce(pass.instead_of, pass.pass) AND later.attempt > pass.attempt)
    ORDER BY pass.batch, pass.position")
}
