# A finding is a row: what a check saw, how grave it is and what to do.

finding_columns <- c(
  "severity", "check", "message", "todo", "workload", "context", "metric", "arm", "pass"
)

#' @param severity `note`, `warning` or `blocking`.
#' @param check Short name of the check that saw it.
#' @noRd
new_finding <- function(severity, check, message, todo = "", workload = NA, context = NA,
                        metric = NA, arm = NA, pass = NA) {
  stopifnot(severity %in% c("note", "warning", "blocking"))
  data.frame(
    severity = severity, check = check, message = message, todo = todo,
    workload = as.character(workload), context = as.character(context),
    metric = as.character(metric), arm = as.character(arm), pass = as.character(pass)
  )
}

nothing_found <- new_finding(
  character(), character(), character(), character(),
  character(), character(), character(), character(), character()
)
no_findings <- function() nothing_found

#' Stack findings, the gravest first
#' @noRd
bind_findings <- function(...) {
  parts <- Filter(function(f) is.data.frame(f) && nrow(f), list(...))
  if (!length(parts)) {
    return(no_findings())
  }
  all <- unique(do.call(rbind, parts))
  all <- all[order(match(all$severity, c("blocking", "warning", "note"))), , drop = FALSE]
  rownames(all) <- NULL
  all
}

#' Findings of a weighing or a study
#'
#' @param x What [weigh()], [read_study()], [read_readings()] or [read_frames()]
#'   returned.
#' @return A data frame: `severity` (`note`, `warning`, `blocking`), `check`,
#'   `message`, `todo`, and where it was seen (`workload`, `context`, `metric`,
#'   `arm`, `pass`).
#' @export
#' @examples
#' findings(weigh(data.frame(arm = c("a", "b"), value = c(1, 2)), baseline = "a"))
findings <- function(x) {
  found <- if (inherits(x, "honestmargin_study")) x$findings else attr(x, "findings")
  empty_to(found, no_findings())
}
