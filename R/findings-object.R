# A finding is a code with values: what was seen, how grave it is and where. The
# words are made by those who tell it.

finding_columns <- c("severity", "code", "workload", "segment", "context", "metric", "arm", "pass", "part", "values")
severities <- c("blocking", "warning", "note")

#' @param severity `note`, `warning` or `blocking`.
#' @param code What was seen; the words for it stand in `tell-codes.R`, or with the
#'   check that saw it.
#' @param ... Values, named, for the words.
#' @return An object of class `honestmargin_findings`, a data frame of one row.
#' @noRd
new_finding <- function(severity, code, ..., workload = NA, segment = NA, context = NA, metric = NA, arm = NA,
                        pass = NA, part = NA) {
  stopifnot(severity %in% severities)
  text <- function(x) as.character(x)
  findings_table(list(
    severity = severity, code = code, workload = text(workload), segment = text(segment), context = text(context),
    metric = text(metric), arm = text(arm), pass = text(pass), part = as.integer(part), values = list(list(...))
  ))
}

#' A code with its values, for a reason or an outcome that stands beside something else
#' @noRd
new_code <- function(code, ...) list(code = code, values = list(...))

findings_table <- function(columns) structure(list2DF(columns), class = c("honestmargin_findings", "data.frame"))

no_findings <- function() {
  text <- character()
  findings_table(list(
    severity = text, code = text, workload = text, segment = text, context = text, metric = text, arm = text,
    pass = text, part = integer(), values = list()
  ))
}

#' Stack findings, the gravest first, each once
#' @noRd
bind_findings <- function(...) {
  parts <- Filter(function(f) is.data.frame(f) && nrow(f), list(...))
  if (!length(parts)) {
    return(no_findings())
  }
  all <- lapply(stats::setNames(nm = finding_columns), function(column) {
    unlist(lapply(parts, `[[`, column), recursive = FALSE, use.names = FALSE)
  })
  code <- do.call(
    paste, c(all[setdiff(finding_columns, "values")], list(vapply(all$values, value_key, "")), sep = "\r")
  )
  at <- which(!duplicated(code))
  at <- at[order(match(all$severity[at], severities))]
  findings_table(lapply(all, `[`, at))
}

value_key <- function(values) paste(names(values), vapply(values, paste, "", collapse = "\n"), collapse = "\r")

#' @rdname findings
#' @export
findings <- function(x, ...) UseMethod("findings")

#' The findings that a table or an object carries, as codes
#' @noRd
findings_of <- function(x) {
  own <- inherits(x, c("honestmargin_study", "honestmargin_forecast"))
  empty_to(if (own) x$findings else attr(x, "findings"), no_findings())
}

#' @export
`[.honestmargin_findings` <- function(x, ...) {
  out <- NextMethod()
  # a choice of columns is a plain table
  if (is.data.frame(out) && !all(finding_columns %in% names(out))) class(out) <- "data.frame"
  out
}
