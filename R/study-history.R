# What was said and done in a study, and what was not the same throughout.

#' Everything that was ever said or changed in a study
#'
#' @param x A study whose folder has a ledger, or that folder.
#' @return A data frame in the order in which it was written: `at` (UTC), `kind`, `pass`, `part`, `said` (in words:
#'   what, value before and after), `reason`, `detail` (what the record holds: JSON, or the outcome of a pass); with the
#'   seals and every pass that ended among them.
#' @export
#' @examples
#' # see exclude_pass()
study_history <- function(x) {
  record <- with_store(folder_of(x), store_history, write = FALSE)
  events <- record$events
  said <- lapply(events$detail, function(text) if (!is.na(text)) jsonlite::fromJSON(text))
  seals <- record$seals
  ended <- record$ended
  rows <- stack_rows(list(
    if (nrow(seals)) {
      data.frame(
        n = seals$n, at = seals$sealed, kind = "sealed", detail = detail_of(seals[c("batch", "plan")]),
        said = event_words("sealed", split_rows(data.frame(batch = seals$batch, plan = substr(seals$hash, 1, 12))))
      )
    },
    if (nrow(ended)) {
      data.frame(
        n = ended$n, at = ended$ended, kind = "pass", pass = ended$pass, detail = ended$outcome,
        reason = pass_reasons(record),
        said = event_words("pass", split_rows(ended[c("workload", "arm", "outcome")]))
      )
    },
    if (nrow(events)) {
      cbind(events[c("n", "at", "kind", "pass", "part", "detail", "reason")], said = event_words(events$kind, said))
    }
  ))
  rows <- with_columns(rows, c("pass", "part", "reason"), NA_character_)
  rows <- rows[order(rows$n, rows$at), c("at", "kind", "pass", "part", "said", "reason", "detail"), drop = FALSE]
  rownames(rows) <- NULL
  rows
}

detail_of <- function(table) vapply(split_rows(table), detail_json, "")

event_words <- function(kind, values) {
  kind <- rep_len(kind, length(values))
  format(new_codes(lapply(seq_along(values), function(i) {
    list(list(code = paste0("event_", kind[i]), values = empty_to(values[[i]], list())))
  })))
}

# what the tester noted of a pass, and what was seen
pass_reasons <- function(record) {
  about <- vapply(record$ended$pass, function(pass) {
    found <- which(record$found$pass == pass)
    paste(format(new_codes(lapply(found, function(i) {
      list(list(code = record$found$code[i], values = record$found$values[[i]]))
    }))), collapse = "; ")
  }, "", USE.NAMES = FALSE)
  note <- record$ended$note
  ifelse(is.na(note), about, ifelse(nzchar(about), paste0(note, "; ", about), note))
}

#' What differed between the arms, or drifted, beside the setting
#'
#' @param x A study, or its folder.
#' @param ... Not used.
#' @param all `TRUE` for the steady ones too.
#' @return A data frame: `condition`, `seen` (`differs between arms`, `changed`, `drifted`, `busy` where
#'   other programs were at work before the passes, `steady`), `values`.
#' @export
#' @examples
#' # honestmargin ask STUDY conditions prints it
study_conditions <- function(x, ..., all = FALSE) {
  assert_no_dots(...)
  with_store(folder_of(x), function(store) {
    shown_conditions(conditions_of(store_passes(store), store_record(store), all))
  }, write = FALSE)
}

#' The folder of a study, from its path or the study itself
#' @noRd
folder_of <- function(x) {
  if (is_study(x)) {
    return(x$folder)
  }
  checkmate::assert_string(x)
  x
}
