# A pass, a step by hand and a place in words.

#' @param v Values from `pass_facts()`.
#' @noRd
pass_words <- function(v) {
  paste0(
    "pass ", v$pass, ": ", v$setting, " ", with_unit(v$arm, v$unit), ", ", v$workload,
    if (nzchar(v$context)) paste0(", ", v$context_name, " ", v$context), if (v$warm_up) " (warm-up)"
  )
}

step_words <- function(v) {
  paste0(
    "set ", v$setting, " to ", with_unit(v$arm, v$unit), if (nzchar(v$how)) paste0(" (", v$how, ")"),
    if (nzchar(v$context)) paste0("; ", v$context_name, " to ", v$context),
    if (v$restart) ", restart the machine", rung_words(v)
  )
}

# where a search stands
rung_words <- function(v) {
  said <- c(
    if (!is.na(empty_to(v$good, NA))) paste("last good", with_unit(v$good, v$unit)),
    if (!is.na(empty_to(v$failed, NA))) paste("failed", with_unit(v$failed, v$unit)),
    if (!is.na(empty_to(v$left, NA))) paste("soak,", long_words(v$left), "more")
  )
  if (length(said)) paste0(" (", paste(said, collapse = ", "), ")")
}

long_words <- function(seconds) {
  if (seconds < 90) {
    paste(if (seconds < 10) show_number(seconds, 2) else round(seconds), "s")
  } else if (seconds < 5400) {
    paste(round(seconds / 60), "min")
  } else {
    paste(show_number(seconds / 3600, 2), "h")
  }
}

with_unit <- function(text, unit) if (nzchar(unit)) paste(text, unit) else as.character(text)

#' How to set marks while a pass runs
#' @param hint From `mark_hint()`, or `NULL`.
#' @noRd
mark_words_for <- function(hint) {
  if (is.null(hint)) {
    return(NULL)
  }
  what <- if (length(hint$arms)) {
    paste0("arm VALUE (", some_of(hint$arms), ") at each flip")
  } else if (length(hint$segments)) {
    paste0("segment NAME (", some_of(hint$segments), ") where one begins")
  } else {
    "segment NAME where one begins"
  }
  paste0(
    "Meanwhile, from another shell or a hot key: honestmargin mark ", hint$folder, " ", what,
    "; pause and resume around menus."
  )
}
