# A study, its findings and outcomes as a person reads them in a terminal.

#' @export
print.honestmargin_study <- function(x, ...) {
  counted <- sum(x$passes$role == "counted")
  writeLines(c(
    fold(if (nzchar(x$plan$question)) x$plan$question else empty_to(x$plan$study, "a study"), rest = ""),
    fold(paste0("arms ", some_of(plan_arms(x$plan), 12), "; baseline ", x$plan$setting$baseline), rest = ""),
    paste0(
      count_of(nrow(x$passes), "pass", "passes"), ", ", counted, " counted, ", sum(
        x$traces$kind == "frames"
      ), " with a frame log"
    ),
    finding_lines(findings(x))
  ))
  invisible(x)
}

finding_lines <- function(found) {
  if (!nrow(found)) {
    return(NULL)
  }
  text <- paste0(
    found$severity, ": ", placed_messages(found), ifelse(nzchar(found$todo), paste0(" -> ", found$todo), "")
  )
  c("", paint_severity(unlist(lapply(text, fold, first = "! ", rest = "  "))))
}

outcome_lines <- function(table, labels, judged = character()) {
  # where every pass held and a number is what is judged, there is nothing to tell
  kinds <- setdiff(intersect(outcomes, names(table)), "ok")
  telling <- rowSums(table[kinds]) > 0 | table$workload %in% judged
  table <- table[table$workload %in% table$workload[telling], , drop = FALSE]
  if (!nrow(table)) {
    return(NULL)
  }
  c(
    "", paste0(outcomes_heading, ":"), "",
    table_lines(outcomes_shown(table, labels), "exposure",
      whole = c("failed", "failure rate"), group = c("workload", "context")
    ),
    "", fold(outcomes_note, rest = "")
  )
}

#' Workloads of which the way passes end is judged
#' @noRd
judged_workloads <- function(verdicts) {
  unique(verdicts$workload[verdicts$role == "primary" & verdicts$metric %in% names(known_outcome_metrics())])
}
