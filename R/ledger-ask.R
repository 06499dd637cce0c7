# What a run asks a person, and what was answered, by whichever page or terminal.

#' @export
store_ask.honestmargin_ledger <- function(store, kind, pass, facts, machine) {
  hold_turn(store, {
    id <- 1L + max(0L, DBI::dbGetQuery(store$con, "SELECT max(id) AS id FROM question")$id, na.rm = TRUE)
    write_act(store, "question", list(pass = pass), list(question = data.frame(
      id = id, at = clock_now(), pid = Sys.getpid(), boot = machine$boot, pass = pass, kind = kind,
      facts = detail_json(facts)
    )))
    id
  })
}

#' @export
store_answer.honestmargin_ledger <- function(store, question, said, via) {
  # of two at the same moment one is first, and the other is known to come second
  first <- write_act(store, "answer", rows = list(answer = data.frame(
    question = question, at = clock_now(), via = via, said = detail_json(said)
  )), id = act_id("answer", question))
  !isFALSE(first)
}

#' @export
store_answered.honestmargin_ledger <- function(store, question) {
  row <- DBI::dbGetQuery(store$con, "SELECT via, said FROM answer WHERE question = $1", list(question))
  if (nrow(row)) c(jsonlite::fromJSON(row$said, simplifyVector = FALSE), via = row$via)
}

#' @export
store_question.honestmargin_ledger <- function(store) {
  row <- DBI::dbGetQuery(store$con, paste(
    "SELECT * FROM question WHERE id = (SELECT max(id) FROM question) AND id NOT IN (SELECT question FROM answer)"
  ))
  if (nrow(row)) c(as.list(row[names(row) != "facts"]), list(facts = jsonlite::fromJSON(row$facts)))
}

#' @export
store_latest.honestmargin_ledger <- function(store, most) {
  DBI::dbGetQuery(store$con, paste(
    "SELECT pass.*, ended.ended, ended.seconds, ended.outcome, ended.note FROM ended JOIN pass USING (pass)",
    "WHERE pass NOT IN (SELECT pass FROM act WHERE kind = 'undo' AND pass IS NOT NULL)",
    "ORDER BY ended.n DESC LIMIT $1"
  ), list(most))
}

#' @export
store_stamp.honestmargin_ledger <- function(store) {
  as.character(DBI::dbGetQuery(store$con, "SELECT n FROM turn")$n)
}

#' @export
store_pass.honestmargin_ledger <- function(store, pass) {
  DBI::dbGetQuery(store$con, "SELECT * FROM pass WHERE pass = $1", list(pass))
}
