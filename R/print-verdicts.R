# Verdicts as a person reads them in a terminal.

#' @export
print.honestmargin_verdicts <- function(x, ..., wide = FALSE, exploratory = FALSE) {
  # a choice of columns is no longer a table of verdicts
  if (all(verdict_columns %in% names(x))) {
    writeLines(verdict_lines(x, wide, exploratory))
  } else {
    print(plain_table(x), ...)
  }
  invisible(x)
}

verdict_lines <- function(x, wide = FALSE, exploratory = FALSE) {
  told <- labels_of(x)
  primary <- x$role == "primary"
  # where nothing but exploratory rows is asked for, these are the answer
  by <- if (any(primary)) "workload" else "verdict"
  shown <- x[primary | exploratory | !any(primary), , drop = FALSE]
  c(
    if (nzchar(told$question)) c(fold(told$question, rest = ""), ""),
    if (any(primary)) headline_lines(x),
    if (wide) wide_lines(shown) else short_lines(shown, told), if (has_pairs(shown)) "",
    if (length(shown_read(x))) c(shown_read(x)[-1], ""),
    fold(sentences(x, by = by), rest = "  "), "",
    fold(c(verdicts_explained(shown), footing(x, shown)), rest = ""),
    reason_lines(shown), after_lines(x, exploratory), batch_lines(x, exploratory)
  )
}

# the sealed answer comes first; what was asked for later stands below it, under its name
after_lines <- function(x, exploratory) {
  otherwise <- attr(x, "otherwise")
  words <- after_words(otherwise)
  if (is.null(words)) {
    return(NULL)
  }
  later <- otherwise$verdicts
  shown <- later[later$role == "primary" | exploratory, , drop = FALSE]
  c(
    "", paste0(after_heading, ":"), fold(words$changes, first = "  ", rest = "    "), "",
    fold(words$sentences, rest = "  "), "", short_lines(shown, labels_of(x))
  )
}

batch_lines <- function(x, exploratory) {
  table <- batches_side_by_side(x, exploratory)
  if (!is.null(table)) c("", paste0(batches_heading, ":"), "", table_lines(table, group = "workload"))
}

headline_lines <- function(x) {
  said <- headline(x)
  if (!is.null(said)) c(bold(fold(said, rest = "")), "")
}

# arms in their order, the baseline's own numbers first
short_lines <- function(rows, told) {
  if (has_pairs(rows)) {
    return(pair_lines(rows))
  }
  unlist(lapply(answers_shown(rows, told), function(one) {
    c(
      one$place, fold(one$about, first = "  ", rest = "    "),
      paint_verdicts(paste0(
        "  ", table_lines(one$table, "change", width = text_width() - 2, whole = c("interval", "verdict"))
      )), ""
    )
  }), use.names = FALSE)
}

# each arm with each: no one baseline that could stand first
pair_lines <- function(rows) {
  table <- data.frame(
    workload = place_names(rows[c("workload", "segment")]), context = empty_na(rows$context),
    metric = rows$metric, arm = rows$arm, against = rows$baseline,
    change = shown_change(rows), interval = shown_interval(rows),
    verdict = rows$verdict,
    more = ifelse(rows$verdict != "unclear" | is.na(rows$more_passes), "", format_count(rows$more_passes))
  )
  table$change[rows$verdict == "blocked"] <- ""
  table$interval[rows$verdict == "blocked"] <- ""
  if (all(is.na(rows$context))) table$context <- NULL
  table_lines(table, c("change", "more"), whole = c("interval", "verdict"), group = c("workload", "context"))
}

format_count <- function(n) ifelse(is.finite(n), show_exact(n), "no end")

# every column, a few at a time, so that nothing runs over the side
wide_lines <- function(rows) {
  text <- as.data.frame(
    lapply(
      plain_table(rows)[setdiff(verdict_columns, "codes")],
      function(v) if (is.double(v) && any(v != round(v), na.rm = TRUE)) show_number(v) else empty_na(as.character(v))
    )
  )
  keys <- text[c("workload", "segment", "metric", "arm")]
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
        group = c("workload", "segment")
      ),
      ""
    )
  }))
}

footing <- function(x, shown) {
  unit <- unique(shown$unit_of_replication[!is.na(shown$unit_of_replication)])
  hidden <- sum(x$role == "exploratory") - sum(shown$role == "exploratory")
  paste0(
    "Baseline ", baseline_words(x), ". ", family_words(x),
    if (length(unit)) paste0(" Unit: ", paste(unit, collapse = ", "), "."),
    if (any(shown$verdict == "unclear")) {
      paste0(
        if (has_pairs(shown)) " more: " else " To settle what is unclear: ",
        if (go_on_counting(x)) "further units" else "units of a fresh batch", " per arm", more_how(x), "."
      )
    },
    if (hidden || any(shown$role == "exploratory")) {
      moved <- unasked_words(x)
      paste0(" ", paste(c(
        moved, if (hidden) paste0(if (is.null(moved)) "Exploratory comparisons are ", "not shown (--exploratory)")
      ), collapse = "; "), ".")
    }
  )
}

# A reason may be several; each is told once, with all it holds for.
reason_lines <- function(rows) {
  said <- rows[nzchar(rows$reason), , drop = FALSE]
  if (!nrow(said)) {
    return(NULL)
  }
  each <- lapply(said$codes, function(codes) format(new_codes(lapply(codes, list))))
  who <- rep(paste0(place_names(said), " ", said$arm), lengths(each))
  metric <- rep(said$metric, lengths(each))
  each <- unlist(each)
  all <- tapply(rows$metric, paste0(place_names(rows), " ", rows$arm), function(m) length(unique(m)))
  lines <- lapply(unique(each), function(reason) {
    here <- each == reason
    # of some of its metrics only
    part <- vapply(who[here], function(w) length(unique(metric[here & who == w])) < all[[w]], NA)
    named <- ifelse(part, paste0(who[here], " (", metric[here], ")"), who[here])
    fold(paste0(some_of(unique(named), 4), ": ", reason), first = "* ", rest = "  ")
  })
  c("", unlist(lines))
}
