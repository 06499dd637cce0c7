# What a run asks a person, and what was answered, by whichever page or terminal.

#' @export
store_ask.honestmargin_sqlite <- function(store, kind, pass, facts, machine) {
  append_rows(store$con, "question", data.frame(
    at = clock_now(), pid = Sys.getpid(), boot = machine$boot, pass = pass, kind = kind, facts = detail_json(facts)
  ))
  DBI::dbGetQuery(store$con, "SELECT max(id) AS id FROM question")$id
}

#' @export
store_answer.honestmargin_sqlite <- function(store, question, said, via) {
  # in one statement, so that of two at the same moment one is first
  DBI::dbExecute(
    store$con, "INSERT OR IGNORE INTO answer (question, at, via, said) VALUES (?, ?, ?, ?)",
    list(question, clock_now(), via, detail_json(said))
  ) == 1
}

#' @export
store_answered.honestmargin_sqlite <- function(store, question) {
  row <- DBI::dbGetQuery(store$con, "SELECT via, said FROM answer WHERE question = ?", list(question))
  if (nrow(row)) c(jsonlite::fromJSON(row$said, simplifyVector = FALSE), via = row$via)
}

#' @export
store_question.honestmargin_sqlite <- function(store) {
  row <- DBI::dbGetQuery(store$con, paste(
    "SELECT * FROM question WHERE id = (SELECT max(id) FROM question) AND id NOT IN (SELECT question FROM answer)"
  ))
  if (nrow(row)) c(as.list(row[names(row) != "facts"]), list(facts = jsonlite::fromJSON(row$facts)))
}

#' @export
store_latest.honestmargin_sqlite <- function(store, most) {
  DBI::dbGetQuery(store$con, paste(
    "SELECT pass.*, ended.ended, ended.seconds, ended.outcome, ended.note FROM ended JOIN pass USING (pass)",
    "WHERE pass NOT IN (SELECT pass FROM event WHERE kind = 'undo' AND pass IS NOT NULL)",
    "ORDER BY ended.rowid DESC LIMIT ?"
  ), list(most))
}

#' @export
store_stamp.honestmargin_sqlite <- function(store) {
  DBI::dbGetQuery(store$con, paste(
    "SELECT (SELECT count(*) FROM ended) || '-' || (SELECT count(*) FROM event) || '-' ||",
    "(SELECT count(*) FROM reading) AS stamp"
  ))$stamp
}

#' @export
store_pass.honestmargin_sqlite <- function(store, pass) {
  DBI::dbGetQuery(store$con, "SELECT * FROM pass WHERE pass = ?", list(pass))
}
