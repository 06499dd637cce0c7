# What a ledger says beside the passes: the seal, what was changed after it, notes, corrections.

# The plan that lies in the folder now, or the last that was stored; NULL where it is the sealed one.
plan_now <- function(store, sealed) {
  now <- tryCatch(read_plan(store$folder), honestmargin_error = function(e) NULL)
  if (is.null(now)) {
    newest <- DBI::dbGetQuery(store$con, "SELECT text FROM plan ORDER BY version DESC LIMIT 1")$text
    now <- tryCatch(parse_plan(newest, store$folder), honestmargin_error = function(e) NULL)
  }
  if (!is.null(now) && !identical(attr(now, "text"), attr(sealed, "text"))) now
}

#' @export
store_record.honestmargin_ledger <- function(store, batch = NULL) {
  batch <- chosen_batch(store, batch)
  seal <- DBI::dbGetQuery(store$con, "SELECT * FROM seal WHERE batch = $1", list(batch))
  later <- DBI::dbGetQuery(store$con, "SELECT stored FROM plan WHERE version > $1 ORDER BY version", list(seal$plan))
  plan <- store_plan(store, batch)
  now <- plan_now(store, plan)
  sealed <- list(
    at = seal$sealed, hash = seal$hash, batch = batch, method = sealed_method(store, batch), changed = later$stored,
    now = now,
    changes = if (!is.null(now)) plan_changes(plan, now)
  )
  schedule <- DBI::dbGetQuery(store$con, "SELECT * FROM pass WHERE batch = $1", list(batch))
  events <- ledger_events(store)
  of_batch <- schedule$pass
  schedule <- schedule[!schedule$pass %in% undone_passes(events), , drop = FALSE]
  ended <- ledger_table(store, "ended")
  list(
    sealed = sealed, blind = shown_pairs(store, batch), begun = ledger_table(store, "begun"),
    snapshots = ledger_table(store, "snapshot"),
    findings = bind_findings(
      extra_findings(schedule[schedule$extra == 1 & is.na(schedule$start) & schedule$pass %in% ended$pass, ]),
      extended_findings(events, of_batch), looked_findings(events, batch), change_findings(sealed),
      batch_findings(batch, store_batches(store)),
      left_findings(schedule[!schedule$pass %in% ended$pass, ], events, batch),
      dropped_findings(events, batch),
      missing_traces(store, schedule$pass),
      tester_notes(ended[ended$pass %in% schedule$pass, ]),
      correction_findings(events, of_batch)
    )
  )
}

# how comparisons were judged when this was sealed: what does not say is the first method
sealed_method <- function(store, batch) {
  said <- DBI::dbGetQuery(
    store$con, "SELECT detail FROM act WHERE kind IN ('seal', 'fresh batch') AND detail IS NOT NULL"
  )
  said <- Filter(function(one) one$batch == batch, lapply(said$detail, jsonlite::fromJSON))
  if (length(said)) empty_to(said[[1]]$method, 1L) else 1L
}

change_findings <- function(sealed) {
  changes <- sealed$changes
  if (!NROW(changes)) {
    return(NULL)
  }
  told <- function(rows) if (nrow(rows)) paste0(rows$key, ": ", said_or_none(rows$from), " -> ", said_or_none(rows$to))
  bind_findings(
    new_finding("warning", "plan_changed", changes = told(changes), at = utils::head(sealed$changed, 1)),
    if (any(grepl(scheduled_keys, changes$key))) {
      new_finding("warning", "no_effect", changes = told(changes[grepl(scheduled_keys, changes$key), ]))
    }
  )
}

said_or_none <- function(text) ifelse(nzchar(text), text, "none")

batch_findings <- function(batch, there) {
  if (length(there) > 1) new_finding("note", "batch_meant", batch = batch, of = length(there))
}

extended_findings <- function(events, passes) {
  do.call(bind_findings, lapply(event_details(events, "extended"), function(said) {
    if (said$first %in% passes) new_finding("warning", "extended", blocks = said$blocks, after = said$after)
  }))
}

looked_findings <- function(events, batch) {
  looks <- event_details(events, "look", batch)
  if (length(looks)) new_finding("note", "looked", looks = length(looks))
}

#' @export
store_said.honestmargin_ledger <- function(store, batch = NULL) {
  said <- event_details(ledger_events(store), "search", chosen_batch(store, batch))
  of <- function(kind) unique(unlist(lapply(said, function(one) if (one$say == kind) one$value)))
  halts <- Filter(function(one) one$say %in% c("stop", "go_on"), said)
  list(
    skip = as.character(of("skip")), add = as.character(of("add")),
    stop = length(halts) > 0 && halts[[length(halts)]]$say == "stop"
  )
}

# what is left of the plan; nothing that a run until settled would still need
left_findings <- function(left, events, batch) {
  dropped <- vapply(event_details(events, "arm settled", batch), `[[`, "", "arm")
  left <- left[!left$arm %in% dropped & !left$role %in% search_roles, , drop = FALSE]
  if (!nrow(left)) {
    return(NULL)
  }
  last <- utils::tail(event_details(events, "look", batch), 1)
  settled <- length(last) > 0 && last[[1]]$open == 0
  new_finding("note", if (settled) "settled_early" else "unfinished", left = nrow(left))
}

dropped_findings <- function(events, batch) {
  do.call(bind_findings, lapply(event_details(events, "arm settled", batch), function(one) {
    new_finding("note", "arm_settled", arm = one$arm, block = one$block)
  }))
}

extra_findings <- function(extra) {
  arms <- table(extra$arm)
  if (nrow(extra)) {
    new_finding("warning", "extra_passes",
      arms = paste(names(arms), arms), arm = paste(names(arms), collapse = ", ")
    )
  }
}

missing_traces <- function(store, passes) {
  traces <- ledger_table(store, "trace")
  traces <- traces[traces$pass %in% passes, , drop = FALSE]
  gone <- traces[!file.exists(file.path(store$folder, traces$file)), , drop = FALSE]
  do.call(bind_findings, lapply(seq_len(nrow(gone)), function(i) {
    new_finding("warning", "trace_missing", file = gone$file[i], pass = gone$pass[i])
  }))
}

tester_notes <- function(ended) {
  noted <- which(!is.na(ended$note) & ended$outcome %in% outcomes_well)
  do.call(bind_findings, lapply(noted, function(i) {
    new_finding("note", "noted", text = ended$note[i], pass = ended$pass[i])
  }))
}

correction_findings <- function(events, passes) {
  said_after <- c("correct", "outcome", "place", "undo")
  events <- events[events$kind %in% said_after & events$pass %in% passes, , drop = FALSE]
  do.call(bind_findings, lapply(seq_len(nrow(events)), function(i) {
    said <- if (!is.na(events$detail[i])) jsonlite::fromJSON(events$detail[i])
    reason <- events$reason[i]
    place <- list(pass = events$pass[i], part = events$part[i])
    do.call(new_finding, c(list("note"), switch(events$kind[i],
      correct = list("corrected",
        metric_said = said$metric, was = said$was, value = said$value, reason = reason,
        segment = empty_to(said$segment, NA_character_), metric = said$metric
      ),
      outcome = list("outcome_corrected", outcome = said$outcome, reason = reason),
      place = list("place_corrected", to = said[setdiff(names(said), "was")], was = said$was, reason = reason),
      undo = list("undone", reason = reason)
    ), place))
  }))
}

#' @export
store_history.honestmargin_ledger <- function(store) {
  list(
    seals = ledger_table(store, "seal"), ended = DBI::dbGetQuery(
      store$con,
      "SELECT ended.*, pass.workload, pass.arm, pass.block FROM ended JOIN pass USING (pass) ORDER BY ended.n"
    ),
    found = stored_findings(ledger_table(store, "finding")), events = ledger_events(store)
  )
}
