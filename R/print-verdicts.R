# Verdicts as a person reads them in a terminal.

#' @param long Also what explains the answers: sentences, the words of the verdicts, the reasons of each row, how passes
#'   ended and what limited them, and all findings with what to do.
#' @param commands From `follow_ups()`; `NULL` in R.
#' @noRd
verdict_lines <- function(x, wide = FALSE, exploratory = FALSE, long = FALSE, commands = NULL) {
  labels <- labels_of(x)
  primary <- x$role == "primary"
  # where nothing but exploratory rows is asked for, these are the answer
  shown <- x[primary | exploratory | !any(primary), , drop = FALSE]
  found <- findings(x, exploratory = exploratory)
  c(
    if (nzchar(labels$question)) c(fold(labels$question, rest = ""), ""),
    if (any(primary)) headline_lines(x),
    if (wide) wide_lines(shown) else answer_lines_short(shown, labels), "",
    rest_lines(x, shown),
    marked_lines("* ", failure_notes(x)), marked_lines("! ", if (!long) caveats(x, shown, found)),
    after_lines(x, exploratory), batch_lines(x, exploratory),
    if (long) long_lines(x, shown, found),
    if (!long) next_lines(next_steps(x, shown, found, commands))
  )
}

marked_lines <- function(mark, text) if (length(text)) unlist(lapply(text, fold, first = mark, rest = "  "))

next_lines <- function(steps) {
  if (!length(unlist(steps))) {
    return(NULL)
  }
  said <- paste0(paste(steps$said, collapse = "; "), if (length(steps$said)) ".")
  wide <- if (length(steps$commands)) max(nchar(steps$commands))
  paste_these <- unlist(Map(function(command, why) {
    line <- paste0("  ", formatC(command, width = -wide), "  # ", why)
    if (nchar(line) <= text_width()) line else paste0("  ", command)
  }, steps$commands, names(steps$commands)), use.names = FALSE)
  c(sub(" $", "", fold(paste("Next:", said), rest = "  ")), paste_these)
}

# what the answers rest on: what was read, the family, what "more" counts
rest_lines <- function(x, shown) {
  unit <- unique(shown$unit_of_replication[!is.na(shown$unit_of_replication)])
  c(
    shown_read(x)[-1],
    fold(paste0(
      # of two arms, and of one group, it stands nowhere above
      if (!has_pairs(shown) && (length(unique(shown$arm)) == 1 || length(unique(cell_key(shown))) == 1)) {
        paste0(worth_lines(shown, labels_of(x)), " ")
      },
      family_words(x), if (length(setdiff(unit, "pass"))) paste0(" Unit: ", paste(unit, collapse = ", "), "."),
      if (any(nzchar(more_shown(shown)))) more_means(x, unit),
      if (any(shown$role == "exploratory")) exploratory_words(shown)
    ), rest = "")
  )
}

# "Worth 2 %, noise 0.43 %." of one metric; of several "Worth: average 2 %, 1 % low 5 %."
worth_lines <- function(rows, labels) {
  first <- rows[!duplicated(rows$metric), , drop = FALSE]
  if (nrow(first) == 1) {
    about <- answer_about(rows)
    return(paste0(capital(about), "."))
  }
  first <- first[!is.na(first$worth), , drop = FALSE]
  if (!nrow(first)) {
    return("No worth named.")
  }
  each <- vapply(each_row(plain_table(first)), worth_words, "")
  if (length(unique(each)) == 1 && nrow(first) == length(unique(rows$metric))) {
    return(paste0("Worth ", each[1], "."))
  }
  paste0("Worth: ", some_of(paste(short_labels(first$metric, labels, rows$metric), each), 8), ".")
}

exploratory_words <- function(rows) {
  n <- sum(rows$role == "exploratory")
  paste0(
    " ", if (n < nrow(rows)) paste(n, "rows are") else "All rows are", " exploratory: each interval alone, expect ",
    "about ", round((1 - rows$confidence[1]) * n), " of ", n, " to move by chance."
  )
}

more_means <- function(x, unit) {
  many <- plural_of(empty_to(unit, "pass")[1])
  paste0(" more: ", if (go_on_counting(x)) {
    paste0("further ", many, " per arm that would settle it (80 % power).")
  } else {
    paste0(many, " per arm of a fresh batch, weighed alone, that would settle it (80 % power).")
  })
}

# behind --long
long_lines <- function(x, shown, found) {
  labels <- labels_of(x)
  hidden <- sum(x$role == "exploratory") - sum(shown$role == "exploratory")
  moved <- unasked_words(x)
  by <- if (any(x$role == "primary")) "workload" else "verdict"
  c(
    "", fold(sentences(x, by = by), rest = "  "), "",
    fold(paste0("Baseline ", baseline_words(x), ". ", verdicts_explained(shown)), rest = ""),
    if (length(moved) || hidden) {
      fold(paste0(paste(c(
        moved, if (hidden) paste0(if (is.null(moved)) "Exploratory comparisons are ", "not shown (--exploratory)")
      ), collapse = "; "), "."), rest = "")
    },
    reason_lines(shown),
    outcome_lines(outcome_table(x), labels, judged_workloads(x)), event_lines(x, labels), limiting_lines(x),
    finding_lines(found)
  )
}

limiting_lines <- function(verdicts) {
  x <- what_was_weighed(verdicts)
  said <- if (is_study(x)) limiting_sentences(limiting_by_arm(x), labels_of(verdicts))
  said <- said[names(said) %in% c(place_names(verdicts[c("workload", "context")]), verdicts$workload)]
  limiting_text(said)
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
    fold(words$sentences, rest = "  "), "", answer_lines_short(shown, labels_of(x))
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

# a group of rows for each place and metric, under one heading; of two arms a row for each metric
answer_lines_short <- function(rows, labels) {
  if (has_pairs(rows)) {
    return(pair_lines(rows))
  }
  groups <- answers_shown(rows, labels)
  baseline <- unique(unlist(lapply(groups, `[[`, "baseline")))
  arms <- unique(rows$arm)
  if (length(arms) == 1 && length(baseline) == 1 && length(groups) > 1) groups <- by_place(rows, labels)
  table <- stack_rows(lapply(groups, `[[`, "table"))
  table[] <- lapply(table, plain_text)
  own <- if (length(baseline) == 1) arm_names(baseline, labels) else "baseline"
  heading <- paste(own, "->", if (length(arms) == 1) arm_names(arms, labels) else "arm")
  names(table)[2] <- if (nchar(heading) <= max(22, nchar(table$value))) heading else "baseline -> arm"
  if (!any(nzchar(table$more))) table$more <- NULL
  table$arm <- paste0("  ", table$arm)
  # of one group its title heads the names of the arms, where there is room
  title <- plain_text(groups[[1]]$title)
  sole <- length(groups) == 1 && is.null(groups[[1]]$blocked) &&
    nchar(title) + sum(column_widths(table[-1]) + 2) <= text_width()
  names(table)[1] <- if (sole) title else " "
  names(table)[-1] <- plain_text(names(table)[-1])
  room <- fitting_widths(table, text_width(), c(names(table)[2], "change", "interval", "verdict", "more"))
  lines <- row_lines(rbind(heading_row(table), table), room, c("change", "more"))
  at <- split(seq_len(nrow(table)) + 1, rep(seq_along(groups), vapply(groups, function(one) nrow(one$table), 1L)))
  each <- Map(function(one, i) {
    if (!is.null(one$blocked)) {
      return(fold(paste0(one$title, ": blocked; ", one$blocked)))
    }
    # of one group it stands below
    about <- c(
      if (length(groups) > 1) one$about,
      if (length(baseline) > 1) paste("against", arm_names(one$baseline[1], labels))
    )
    heading <- paste(c(one$title, if (length(about)) paste(about, collapse = ", ")), collapse = ": ")
    c(if (!sole) fold(heading), paint_verdicts(unlist(lines[i])))
  }, groups, at)
  c(unlist(lines[1]), unlist(each, use.names = FALSE))
}

# of two arms each metric is a row, and what it is worth stands below
by_place <- function(rows, labels) {
  place <- place_names(rows)
  lapply(unname(split(rows, factor(place, unique(place)))), function(here) {
    label <- short_labels(here$metric, labels, rows$metric)
    unit <- ifelse(is.na(here$unit) | here$unit == "" | here$unit == label, "", paste0(" (", here$unit, ")"))
    list(
      title = place_names(here[1, ]), about = NULL, blocked = NULL,
      table = answer_table(here, labels, paste0(label, unit)), baseline = unique(here$baseline)
    )
  })
}

# each arm with each: no one baseline that could stand first
pair_lines <- function(rows) {
  table <- data.frame(
    workload = place_names(rows[c("workload", "segment")]), context = empty_na(rows$context),
    metric = rows$metric, arm = rows$arm, against = rows$baseline,
    change = shown_change(rows), interval = shown_interval(rows),
    verdict = rows$verdict,
    more = more_shown(rows)
  )
  table$change[rows$verdict == "blocked"] <- ""
  table$interval[rows$verdict == "blocked"] <- ""
  if (all(is.na(rows$context))) table$context <- NULL
  table_lines(table, c("change", "more"), whole = c("interval", "verdict"), group = c("workload", "context"))
}

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

register("shown", "verdicts", lines = verdict_lines)
