# Every error a user can cause is one of these classes, so that a caller can
# catch it and the command line can turn it into its exit status.

#' Conditions raised by honestmargin
#'
#' Errors that come from the input or the call carry a class, so that they can
#' be caught with [tryCatch()]; all inherit from `honestmargin_error`.
#'
#' | class | meaning | exit status |
#' | --- | --- | --- |
#' | `honestmargin_error_input` | a file, table or value is wrong or missing | 3 |
#' | `honestmargin_error_needed` | something was not given (a baseline, a direction) | 2 |
#' | `honestmargin_error_usage` | the command line is wrong | 2 |
#' | `honestmargin_error_stuck` | the outside stops us (a folder that cannot be written) | 4 |
#'
#' The condition holds `what`, `where` (file, line, column or pass) and `todo`.
#' @name honestmargin_conditions
#' @keywords internal
#' @examples
#' tryCatch(
#'   read_readings("no-such-file.csv"),
#'   honestmargin_error_input = function(e) conditionMessage(e)
#' )
NULL

# `no_table` says of an input that it has no columns of numbers at all
abort <- function(kind, what, where = NULL, todo = NULL, no_table = FALSE) {
  text <- paste(c(
    if (length(where)) paste0(paste(where, collapse = ", "), ": "), what,
    if (length(todo)) paste0("\n  -> ", todo)
  ), collapse = "")
  stop(structure(
    class = c(paste0("honestmargin_error_", kind), "honestmargin_error", "error", "condition"),
    list(message = text, call = NULL, what = what, where = where, todo = todo, no_table = no_table)
  ))
}

abort_input <- function(what, where = NULL, todo = NULL, ...) abort("input", what, where, todo, ...)
abort_needed <- function(what, where = NULL, todo = NULL) abort("needed", what, where, todo)
abort_usage <- function(what, where = NULL, todo = NULL) abort("usage", what, where, todo)
abort_stuck <- function(what, where = NULL, todo = NULL) abort("stuck", what, where, todo)
