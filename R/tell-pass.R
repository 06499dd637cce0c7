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

clock_words <- function(seconds) {
  seconds <- round(seconds)
  if (seconds < 3600) {
    sprintf(
      "%d:%02d", seconds %/% 60, seconds %% 60
    )
  } else {
    sprintf("%d:%02d:%02d", seconds %/% 3600, seconds %/% 60 %% 60, seconds %% 60)
  }
}

#' A pass that has ended, in a line: its turn, arm, workload, outcome, first readings and what was noted
#' @param pass One row. @param why Texts.
#' @noRd
pass_line <- function(pass, plan, outcome, readings, why = character()) {
  primary <- empty_to(plan_primary(plan), unique(readings$metric))
  shown <- utils::head(readings[readings$metric %in% primary, , drop = FALSE], 3)
  names <- typed_name(shown$segment, shown$metric)
  by_hand <- is.null(workload_of(plan, pass$workload)$command)
  paste0(
    turn_words(pass), "  ", pass$arm, "  ", pass$workload, "  ", outcome,
    if (NROW(shown)) paste0("  ", paste(names, said_values(shown, by_hand), collapse = "  ")),
    if (length(why)) paste0("  (", paste(why, collapse = "; "), ")")
  )
}

turn_words <- function(pass) {
  if (pass$role %in% search_roles) {
    c(rung = "try", soak = "soak")[[pass$role]]
  } else if (is.na(pass$block)) {
    "warm-up"
  } else {
    paste("block", pass$block)
  }
}

# what was typed is said back as it was taken, so that a slip of the finger shows
said_values <- function(readings, by_hand = TRUE) {
  typed <- readings$origin %in% "typed" & by_hand
  value <- ifelse(typed, signif(readings$value, 15), signif(readings$value, 4))
  ifelse(is.na(value), "none", vapply(value, format, "", digits = 15))
}

# of a plan that does not say how long a pass takes, the first one tells
duration_words <- function(seconds) {
  if (is.na(seconds)) "how long is not known before the first pass has run" else paste("about", long_words(seconds))
}
