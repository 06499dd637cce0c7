# The words that the columns of passes and readings may hold.

outcomes <- c(
  "ok", "crash", "down", "freeze", "artefact", "timeout", "no_start", "wrong_setting",
  "interrupted", "lost"
)
# such a pass gave its numbers
outcomes_well <- c("ok", "artefact")
# the machine or the program did not bear it
outcomes_down <- c("crash", "down", "freeze", "no_start")
# what a person can have seen
outcomes_said <- setdiff(outcomes, "wrong_setting")
# the tester's own stops and what the tool did not see the end of are no failures of an arm
not_the_arms <- c("interrupted", "lost")
# `copy`: what another pass holds already
roles <- c("counted", "warm_up", "excluded", "copy")
# what would have counted, had nobody and nothing spoken against it
roles_left_out <- c("excluded", "copy")
# passes of a search: one value tried, and the long test of the one that was found
search_roles <- c("rung", "soak")
pass_columns <- c(
  "pass", "part", "workload", "arm", "context", "block", "boot", "order", "outcome", "role", "reason",
  "started", "seconds", "note", "effective", "batch", "attempt"
)
# what a reading takes over from its pass
of_pass <- c("arm", "workload", "context", "block", "boot", "order", "outcome", "role", "reason", "seconds", "batch")
reading_columns <- c(
  "arm", "value", "metric", "unit", "better", "workload", "segment", "context", "block", "boot", "pass", "part",
  "order", "outcome", "role", "reason", "seconds", "batch"
)

assert_word <- function(words, allowed, column, row_of = function(i) NULL) {
  wrong <- which(!words %in% allowed)
  if (length(wrong)) {
    abort_input(
      paste0("unknown ", column, " '", words[wrong[1]], "'"), row_of(wrong[1]),
      did_you_mean(words[wrong[1]], allowed)
    )
  }
}

#' Rows whose value is weighed
#' @noRd
ran_well <- function(x) x$role == "counted" & x$outcome %in% outcomes_well
is_counted <- function(x) ran_well(x) & !is.na(x$value)

#' The arms in their order: as planned, by number, or as they first appear
#' @noRd
arm_order <- function(arms, planned = NULL) {
  arms <- unique(show_exact(arms, 15))
  if (length(planned)) {
    return(c(planned, setdiff(arms, planned)))
  }
  number <- suppressWarnings(as.numeric(arms))
  if (anyNA(number)) arms else arms[order(number)]
}

#' Where a comparison was made: workload, segment, context
#' @noRd
place_names <- function(rows) {
  add <- function(text, more) if (is.null(more)) text else ifelse(is.na(more), text, paste0(text, ", ", more))
  add(add(rows$workload, rows$segment), rows$context)
}

#' The same of a table of outcomes, which has no segment and perhaps no context
#' @noRd
outcome_places <- function(table) place_names(table[intersect(c("workload", "context"), names(table))])

#' What the arms are compared in: workload, segment, context and metric as one text
#' @noRd
cell_key <- function(rows) paste(rows$workload, rows$segment, rows$context, rows$metric, sep = "\r")
