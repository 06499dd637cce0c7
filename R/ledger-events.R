# What the events of a ledger mean: acts that speak of what is there already.

# acts whose rows tell all there is to tell
row_acts <- c(
  "plan", "seal", "begin", "end", "hand over", "question", "answer", "next pass", "comparison",
  "file taken"
)

#' What was said or decided in a study, in its order
#' @return Data frame `n`, `at`, `kind`, `pass`, `part`, `detail` (JSON), `reason`.
#' @noRd
ledger_events <- function(store) {
  DBI::dbGetQuery(store$con, paste0(
    "SELECT n, at, kind, pass, part, detail, reason FROM act WHERE kind NOT IN (",
    paste0("'", row_acts, "'", collapse = ", "), ") ORDER BY n"
  ))
}

# passes that a tester took back
undone_passes <- function(events) events$pass[events$kind == "undo"]

# The last word on a pass counts. What was said of a part becomes a row of its own.
apply_events <- function(passes, events) {
  said <- c("exclude", "include", "outcome", "place")
  passes <- passes[!passes$pass %in% undone_passes(events), , drop = FALSE]
  events <- events[events$kind %in% said & events$pass %in% passes$pass, , drop = FALSE]
  for (i in seq_len(nrow(events))) {
    at <- which(passes$pass == events$pass[i] & passes$part %in% events$part[i])
    if (!length(at)) {
      new <- passes[match(events$pass[i], passes$pass), , drop = FALSE]
      new$part <- events$part[i]
      passes <- rbind(passes, new)
      at <- nrow(passes)
    }
    switch(events$kind[i],
      exclude = passes[at, c("role", "reason")] <- list("excluded", events$reason[i]),
      include = passes[at, c("role", "reason")] <- list("counted", NA_character_),
      outcome = passes$outcome[at] <- jsonlite::fromJSON(events$detail[i])$outcome,
      place = passes <- moved_pass(passes, at, jsonlite::fromJSON(events$detail[i]))
    )
  }
  passes
}

moved_pass <- function(passes, at, said) {
  for (column in intersect(c("arm", "workload", "block"), names(said))) passes[[column]][at] <- said[[column]]
  passes
}

#' What the events of one kind say, in their order
#' @param batch Those of one batch; `NULL`: all.
#' @noRd
event_details <- function(events, kind, batch = NULL) {
  said <- lapply(events$detail[events$kind == kind], jsonlite::fromJSON)
  if (is.null(batch)) said else Filter(function(one) one$batch == batch, said)
}
