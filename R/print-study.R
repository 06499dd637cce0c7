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
  # a message that names its place itself does not say it twice
  place <- place_names(found[c("workload", "context")])
  named <- is.na(found$workload) | mapply(grepl, found$workload, found$message, fixed = TRUE)
  text <- paste0(
    found$severity, ": ", ifelse(named, "", paste0(place, ": ")), found$message,
    ifelse(nzchar(found$todo), paste0(" -> ", found$todo), "")
  )
  c("", unlist(lapply(text, fold, first = "! ", rest = "  ")))
}

outcome_lines <- function(table) {
  # a pass with artefacts counts
  failed <- setdiff(names(table), c("workload", "arm", "passes", "ok", "warm_up", "artefact"))
  bad <- if (length(failed)) table[rowSums(table[failed]) > 0, , drop = FALSE] else table[0, ]
  if (!nrow(bad)) {
    return(NULL)
  }
  words <- apply(bad[failed], 1, function(n) paste(n[n > 0], failed[n > 0], collapse = ", "))
  c(
    "",
    fold(paste0("Passes that did not count: ", paste0(bad$workload, " ", bad$arm, ": ", words, collapse = "; "), "."))
  )
}
