# Passes whose frames another pass holds already are no measurements of their own, and do not count.

#' Which passes those are
#' @param passes Passes of the study. @param found Its findings.
#' @return Data frame `pass`, `reason`.
#' @noRd
copies_found <- function(passes, found) {
  each <- found$values[found$code %in% c("copied", "appended")]
  copies <- stack_rows(lapply(each, function(v) {
    whose <- if (is.na(v$counts)) "a pass elsewhere" else v$counts
    data.frame(pass = setdiff(v$passes, v$counts), reason = paste("has the frames of", whose))
  }))
  # an arm that has nothing else keeps the first
  there <- passes[ran_well(passes), , drop = FALSE]
  place <- paste(there$workload, there$context, there$arm, sep = "\r")
  bare <- !place %in% place[!there$pass %in% copies$pass] & !duplicated(place)
  copies[!copies$pass %in% there$pass[bare], , drop = FALSE]
}

#' @param table Passes or readings. @param copies From `copies_found()`.
#' @noRd
copies_aside <- function(table, copies) {
  at <- match(table$pass, copies$pass)
  aside <- which(!is.na(at) & table$role == "counted")
  table$role[aside] <- "copy"
  table$reason[aside] <- copies$reason[at[aside]]
  table
}
