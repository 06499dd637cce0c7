# What may be said afterwards in a plain folder: whether a pass counts, and sensor logs.
# Its text files are the record, so that is where the reason goes.

#' @export
assert_keeps.honestmargin_folder <- function(store, kind) {
  listed <- file.path(store$folder, "passes.csv")
  if (!kind %in% c("exclude", "include") || !file.exists(listed)) {
    abort_input(
      paste0("a plain folder keeps no '", kind, "'"), store$folder,
      "its text files are the record: fix passes.csv or readings.csv, and say why in a column note"
    )
  }
}

#' @export
store_event.honestmargin_folder <- function(store, kind, pass = NA_character_, part = NA_integer_, detail = NULL,
                                            reason = NA_character_, once = NULL) {
  listed <- file.path(store$folder, "passes.csv")
  cells <- plain_cells(read_text_table(listed, "list of passes")$cells)
  cells <- with_columns(cells, c("role", "reason"), NA_character_)
  at <- which(cells$pass == pass)
  if (!is.na(part)) at <- at[as.integer(empty_to(cells$part[at], NA)) %in% part]
  if (!length(at)) abort_input(paste0("pass '", pass, "' has no part ", part), listed, "see the column part")
  warm <- !is.na(cells$role[at]) & cells$role[at] == "warm_up"
  if (any(warm)) abort_input(paste0("pass '", pass, "' is a warm-up, which does not count anyway"), listed)
  cells$role[at] <- if (kind == "exclude") "excluded" else "counted"
  cells$reason[at] <- reason
  write_whole(listed, function(to) writeLines(csv_lines(cells), to, useBytes = TRUE))
}

plain_cells <- function(cells) cells[setdiff(names(cells), ".line")]

#' @export
store_history.honestmargin_folder <- function(store) {
  whole <- store$passes[is.na(store$passes$part), , drop = FALSE]
  events <- c("n", "at", "kind", "pass", "part", "detail", "reason")
  list(
    seals = data.frame(n = integer(), sealed = character(), batch = integer(), plan = integer(), hash = character()),
    ended = data.frame(
      n = rep(NA_integer_, nrow(whole)), ended = whole$started, whole[c("pass", "workload", "arm", "outcome")],
      note = ifelse(whole$role == "excluded", paste0("excluded: ", empty_na(whole$reason)), whole$note)
    ),
    found = no_findings(), events = as.data.frame(lapply(stats::setNames(nm = events), function(n) character()))
  )
}

#' @export
store_taken.honestmargin_folder <- function(store) data.frame(hash = character(), pass = character())

#' @export
store_ended.honestmargin_folder <- function(store) {
  whole <- store$passes[is.na(store$passes$part), , drop = FALSE]
  cbind(whole, played = NA_character_, ended = NA_character_)
}

#' @export
store_add_sensors.honestmargin_folder <- function(store, kept, taken) {
  ids <- vapply(kept, `[[`, "", "pass")
  there <- intersect(ids, names(store$files$sensors))
  if (length(there)) {
    abort_input(
      paste0(
        "pass ", there[1], " has a sensor log already"
      ), store$files$sensors[[there[1]]], "take that one away first"
    )
  }
  assert_file_names(ids)
  for (one in kept) put_log(store$folder, "sensors", one$pass, one$sensors)
}
