# How passes ended and which do not count, as people write it beside the numbers of a table: a column "status" or
# "valid", the label of a pass, a note.

# what is typed where a number is due, if the pass had no end of its own
words_of_ends <- list(
  crash = c("crash", "crashed", "absturz", "abgest\u00fcrzt"), freeze = c("freeze", "froze", "frozen", "hung", "hang"),
  down = c("down", "went down", "machine down", "bsod", "blue screen", "bluescreen", "bluescreened"),
  timeout = c("timeout", "timed out", "time out"),
  no_start = c("no_start", "no start", "would not start", "did not start", "no boot")
)

words_fine <- c(
  "ok", "okay", "done", "finished", "complete", "completed", "passed", "pass", "good", "success", "fertig"
)
words_yes <- c("yes", "y", "true", "1", "x", "ja", "j", "wahr")
words_no <- c("no", "n", "false", "0", "-", "nein", "falsch")
negated <- "\\b(no|not|without|never|kein(e|en)?|ohne|nicht)\\b"

#' Ends and exclusions that stand in words, as the columns `outcome`, `role` and `reason`
#' @return As the other steps of `settle_sheet()` give it.
#' @noRd
mark_ends <- function(cells, unnamed = NULL) {
  # where each arm has a column, nobody knows whose end it was
  ends <- grep(names_of_ends, names(cells), ignore.case = TRUE, value = TRUE)
  rest <- cells[setdiff(names(cells), c(headed_as(names(cells), "note"), ends))]
  one_arm <- "arm" %in% names(arm_of_words(list(cells = rest))$cells)
  done <- ends_of_columns(cells, one_arm)
  texts <- ends_of_texts(done$cells, one_arm)
  list(cells = texts$cells, findings = bind_findings(done$findings, texts$findings))
}

# a column that is called so and holds nothing else; an arm or a run may have crashed in every row
names_of_ends <- "^(status|state|end|ended|exit|finish|finished|completed|zustand|ende|beendet)$"
ends_of_columns <- function(cells, one_arm) {
  findings <- NULL
  for (name in setdiff(names(cells), c(reading_columns, ".line", headed_as(names(cells), "note")))) {
    is_end <- grepl(names_of_ends, name, ignore.case = TRUE) && !"outcome" %in% names(cells)
    end <- if (is_end) meant_by(tolower(cells[[name]]), words_of_ends)
    if (is_end && all(!is.na(end) | tolower(cells[[name]]) %in% c(NA, words_fine))) {
      if (one_arm) cells$outcome <- ifelse(is.na(end), "ok", end)
      told <- ends_told(sum(!is.na(end)), name, cells[[name]][!is.na(end)], if (one_arm) "ends_told" else "whose_end")
    } else {
      out <- left_out_by(name, cells[[name]])
      if (is.null(out)) next
      cells <- with_role(cells, out, paste0(name, ": ", cells[[name]]))
      told <- ends_told(sum(out), name, cells[[name]][out], "rows_left_out")
    }
    findings <- bind_findings(findings, told)
    cells[[name]] <- NULL
  }
  list(cells = cells, findings = findings)
}

# "valid: no", "excluded: x"
left_out_by <- function(name, v) {
  words <- if (grepl("^(valid|g(\u00fc|ue)ltig)$", name, ignore.case = TRUE)) {
    words_no
  } else if (grepl("^(excluded?|invalid|discard|outlier|ung(\u00fc|ue)ltig)$", name, ignore.case = TRUE)) {
    words_yes
  }
  v <- if (!is.null(words)) tolower(v)
  if (any(!is.na(v)) && all(v %in% c(NA, words_yes, words_no))) v %in% words
}

# the label of a pass, or a note: of a row without a number what it speaks of is its end
ends_of_texts <- function(cells, one_arm) {
  findings <- NULL
  # a label may hold the name of its arm, and that such a word
  so_called <- end_in_text(unique(unlist(cells[intersect(c("arm", "workload"), names(cells))])))
  notes <- headed_as(names(cells), "note")
  apart <- c(setdiff(reading_columns, "value"), ".line", notes, headed_as(names(cells), "when"))
  numbers <- setdiff(names(cells), apart)
  numbers <- numbers[vapply(cells[numbers], function(v) any(is_number_text(v)), NA)]
  empty <- rowSums(!is.na(cells[numbers])) == 0
  for (name in c(intersect("pass", names(cells)), notes)) {
    v <- cells[[name]]
    if (all(is.na(v) | is_number_text(v))) next
    as <- end_in_text(v)
    as[as %in% so_called] <- NA
    alone <- !is.na(meant_by(tolower(v), words_of_ends)) | name == "pass" | empty
    ended <- as %in% outcomes
    if (!one_arm) {
      findings <- bind_findings(findings, ends_told(sum(ended), name, v[ended], "whose_end"))
      alone <- ended
    } else if (!"outcome" %in% names(cells) && any(ended & alone)) {
      cells$outcome <- ifelse(ended & alone, as, "ok")
      findings <- bind_findings(findings, ends_told(sum(ended & alone), name, v[ended & alone]))
    }
    if (any(ended & !alone)) {
      told <- new_finding("warning", "ends_in_notes", column = name, words = v[ended & !alone])
      findings <- bind_findings(findings, told)
    }
    # "bad weather" is no word on the pass
    out <- as %in% "excluded" & (name == "pass" | grepl("^(exclu|discard|invalid|ung|bad$)", v, ignore.case = TRUE))
    if (any(out) && !all(out)) {
      cells <- with_role(cells, out, v)
      findings <- bind_findings(findings, ends_told(sum(out), name, v[out], "rows_left_out"))
    }
  }
  list(cells = cells, findings = findings)
}

# `NA` where a text speaks of no end, or says that there was none
end_in_text <- function(text) {
  as <- meant_by(tolower(text), words_of_ends)
  denied <- grepl(negated, text, ignore.case = TRUE)
  for (word in names(said_in_names)) {
    as[is.na(as) & !denied & grepl(said_in_names[[word]], text, ignore.case = TRUE, perl = TRUE)] <- word
  }
  as
}

with_role <- function(cells, out, reason) {
  role <- empty_to(cells$role, rep("counted", nrow(cells)))
  role[is.na(role)] <- "counted"
  cells$role <- ifelse(out & role == "counted", "excluded", role)
  kept <- empty_to(cells$reason, rep(NA_character_, nrow(cells)))
  cells$reason <- ifelse(out & is.na(kept), reason, kept)
  cells
}

ends_told <- function(n, column, words, code = "ends_told") {
  severity <- if (code == "whose_end") "warning" else "note"
  if (n > 0) new_finding(severity, code, n = count_of(n, "row"), column = column, words = unique(words))
}

#' "crash" in the cell of a number is how that pass ended
#' @return A list: `long`, with a column `outcome` where there was none, and `findings`.
#' @noRd
ends_in_cells <- function(long) {
  end <- meant_by(tolower(trimws(long$value)), words_of_ends)
  said <- !is.na(end)
  if (!any(said)) {
    return(list(long = long))
  }
  words <- unique(long$value[said])
  long$value[said] <- NA
  outcome <- empty_to(long$outcome, rep(NA_character_, nrow(long)))
  long$outcome <- ifelse(said & outcome %in% c(NA, "ok"), end, outcome)
  list(long = long, findings = new_finding("note", "ends_in_cells", words = words))
}

#' What words said of one number of a pass holds for the whole pass, whatever else it gave
#' @param given Columns that were there as such: these are left as they are.
#' @noRd
whole_passes <- function(long, given) {
  worded <- setdiff(intersect(c("outcome", "role", "reason"), names(long)), given)
  if (!length(worded)) {
    return(long)
  }
  pass <- paste(empty_to(long$pass, long$.line), long$workload, sep = "\r")
  spread <- function(v, said) v[said][match(pass, pass[said])]
  for (column in worded) {
    v <- long[[column]]
    said <- !is.na(v) & !v %in% c("ok", "counted")
    long[[column]] <- ifelse(said | is.na(spread(v, said)), v, spread(v, said))
  }
  long
}

#' Rows of an arm that hold neither a number nor an end
#' @noRd
rows_without_number <- function(long, row) {
  ended <- if ("outcome" %in% names(long)) !long$outcome %in% c(NA, "ok") else rep(FALSE, nrow(long))
  lines <- setdiff(long$.line, long$.line[!is.na(long$value) | ended])
  if (length(lines)) {
    new_finding("note", "rows_without_number", n = count_of(length(lines), "row"), row = row, lines = lines)
  }
}
