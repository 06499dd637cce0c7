# A study against earlier ones, in a terminal: what changed between them first.

against_lines <- function(verdicts, ...) {
  changed <- attr(verdicts, "changed")
  when <- studies_named(verdicts)
  c(
    fold(paste0("Now ", utils::tail(when, 1), ", before: ", paste(utils::head(when, -1), collapse = ", "), ".")), "",
    if (nrow(changed)) {
      c("What changed since the last one:", "", table_lines(changed), "")
    } else {
      c("Nothing that was recorded changed since the last one.", "")
    },
    verdict_lines(verdicts, ...)
  )
}

# with their dates, the one of now last
studies_named <- function(verdicts) {
  levels <- attr(verdicts, "levels")
  unique(paste0(levels$study, " (", levels$at, ")"))
}

register("shown", "against", lines = against_lines)
