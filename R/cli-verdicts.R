# Verdicts as a person reads them in a terminal.

#' @export
print.honestmargin_verdicts <- function(x, ..., wide = FALSE, exploratory = FALSE) {
  # a choice of columns is no longer a table of verdicts
  if (all(verdict_columns %in% names(x))) {
    writeLines(verdict_lines(x, wide, exploratory))
  } else {
    print(as.data.frame(x), ...)
  }
  invisible(x)
}

#' @export
print.honestmargin_study <- function(x, ...) {
  counted <- sum(x$passes$role == "counted")
  writeLines(c(
    fold(empty_to(x$plan$question, empty_to(x$plan$study, "a study")), rest = ""),
    fold(paste0("arms ", some_of(plan_arms(x$plan), 12), "; baseline ", x$plan$setting$baseline), rest = ""),
    paste0(
      count_of(nrow(x$passes), "pass", "passes"), ", ", counted, " counted, ", length(x$traces), " with a frame log"
    ),
    finding_lines(x$findings)
  ))
  invisible(x)
}

verdict_lines <- function(x, wide = FALSE, exploratory = FALSE) {
  told <- told_of(x)
  primary <- x$role == "primary"
  shown <- as.data.frame(x)[primary | exploratory, , drop = FALSE]
  c(
    if (nzchar(told$question)) c(fold(told$question, rest = ""), ""),
    fold(sentences(x), rest = "  "), "",
    if (wide) wide_lines(shown) else table_lines(short_table(shown), c("change", "more")), "",
    fold(footing(x, shown), rest = ""),
    reason_lines(shown)
  )
}

short_table <- function(rows) {
  table <- data.frame(
    workload = shorten(rows$workload, 14), metric = shorten(rows$metric, 15), arm = shorten(rows$arm, 12),
    change = shown_change(rows), interval = shown_interval(rows),
    verdict = rows$verdict,
    more = ifelse(rows$verdict != "unclear" | is.na(rows$more_passes), "", format_count(rows$more_passes))
  )
  table$change[rows$verdict == "blocked"] <- ""
  table$interval[rows$verdict == "blocked"] <- ""
  if (any(!is.na(rows$context))) {
    table <- cbind(
      table["workload"],
      context = shorten(empty_na(rows$context), 10), table[-1]
    )
  }
  table
}

format_count <- function(n) ifelse(is.finite(n), as.character(n), "no end")

# every column, a few at a time, so that nothing runs over the side
wide_lines <- function(rows) {
  text <- as.data.frame(lapply(rows, function(v) if (is.numeric(v)) show_number(v) else empty_na(as.character(v))))
  keys <- text[c("workload", "metric", "arm")]
  groups <- list(
    c("baseline", "n_arm", "n_baseline", "baseline_value", "arm_value", "unit"),
    c("context", "better", "scale", "change", "lower", "upper", "confidence"),
    c("differs", "verdict", "worth", "ruled_out", "noise", "detectable"),
    c("more_passes", "p_value", "p_adjusted", "unit_of_replication", "family_size", "role")
  )
  unlist(lapply(groups, function(columns) {
    c(
      table_lines(
        cbind(keys, stats::setNames(text[columns], sub("unit_of_replication", "unit", columns))),
        width = 120
      ),
      ""
    )
  }))
}

footing <- function(x, shown) {
  unit <- unique(shown$unit_of_replication[!is.na(shown$unit_of_replication)])
  hidden <- sum(x$role == "exploratory") - sum(shown$role == "exploratory")
  paste0(
    "Baseline ", arm_names(x$baseline[1], told_of(x)), ". ", family_words(x),
    if (length(unit)) paste0(" Unit: ", paste(unit, collapse = ", "), "."),
    if (any(shown$verdict == "unclear")) " more: further units per arm that would settle it.",
    if (hidden) paste0(" ", count_of(hidden, "exploratory comparison"), " not shown (--exploratory).")
  )
}

# A reason may be several; each is told once, with all it holds for.
reason_lines <- function(rows) {
  said <- rows[nzchar(rows$reason), , drop = FALSE]
  if (!nrow(said)) {
    return(NULL)
  }
  each <- strsplit(said$reason, "; ", fixed = TRUE)
  who <- rep(paste0(place_names(said), " ", said$arm), lengths(each))
  each <- unlist(each)
  lines <- lapply(unique(each), function(reason) {
    fold(paste0(some_of(unique(who[each == reason]), 4), ": ", reason), first = "* ", rest = "  ")
  })
  c("", unlist(lines))
}

finding_lines <- function(found) {
  if (!nrow(found)) {
    return(NULL)
  }
  text <- paste0(
    found$severity, ": ", ifelse(is.na(found$workload), "", paste0(found$workload, ": ")), found$message,
    ifelse(nzchar(found$todo), paste0(" -> ", found$todo), "")
  )
  c("", unlist(lapply(text, fold, first = "! ", rest = "  ")))
}

outcome_lines <- function(table) {
  failed <- setdiff(names(table), c("workload", "arm", "passes", "ok", "warm_up"))
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
