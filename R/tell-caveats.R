# What to keep in mind beside the answers, each once, and what to do next: the short form for a terminal. The whole
# stands behind `--long`, in the report, and in `check`.

#' Arms that failed, below the table
#' @return "500 Hz crashed in 1 of 5 passes of tunnel: failure rate 0.51 to 72 %", one element an arm and place.
#' @noRd
failure_notes <- function(verdicts) {
  labels <- labels_of(verdicts)
  table <- outcome_table(verdicts)
  rows <- plain_table(verdicts)
  table <- table[table$failed > 0 & table$arm %in% c(rows$arm, rows$baseline), , drop = FALSE]
  many <- length(unique(c(place_names(rows), outcome_places(table)))) > 1
  vapply(each_row(table), function(one) {
    rate <- if (one$failed == one$tried) {
      paste0("at least ", show_exact(signif(one$failed_lower, 2)), " %")
    } else {
      range_words(one$failed_lower, one$failed_upper, " %")
    }
    paste0(
      arm_names(one$arm, labels), " ", failed_verb(one), " in ", one$failed, " of ",
      count_of(one$tried, "pass", "passes"), if (many) paste0(" of ", outcome_places(one)), ": failure rate ", rate
    )
  }, "")
}

# "crashed" where all of them did, else "failed"
failed_verb <- function(rows) {
  kinds <- intersect(outcomes, names(rows))
  kinds <- setdiff(kinds[colSums(rows[kinds]) > 0], c(outcomes_well, not_the_arms))
  verbs <- c(crash = "crashed", down = "went down", freeze = "froze", timeout = "timed out", no_start = "did not start")
  if (length(kinds) == 1 && kinds %in% names(verbs)) verbs[[kinds]] else "failed"
}

#' What is seen in rows or by checks and changes how far an answer may be trusted
#' @param rows Those that are shown. @param found Findings in words.
#' @return Character vector, gravest first.
#' @noRd
caveats <- function(verdicts, rows, found) {
  said <- c(
    finding_caveats(found), loading_caveat(findings_of(verdicts)),
    row_caveats(rows, labels_of(verdicts)),
    event_caveats(verdicts)
  )
  unique(said[nzchar(said)])
}

event_caveats <- function(verdicts) {
  rare <- rare_events(verdicts)
  if (!is.null(rare)) event_sentences(rare, events_by_attribute(verdicts), labels_of(verdicts))
}

# what a row, the headline or the next step says already
said_in_rows <- c("failed", "failed_elsewhere", "one_pass_each", "no_reading_failed", "outcome_counts")
said_by_next <- c("with_excluded", "ceiling", "order_unknown", "loading")

finding_caveats <- function(found) {
  found <- plain_table(found)
  found <- found[!found$check %in% said_by_next, , drop = FALSE]
  found <- found[order(match(found$severity, severities)), , drop = FALSE]
  few <- utils::head(found, max(4, sum(found$severity != "note")))
  c(
    if (nrow(few)) paste0(sub("[.]$", "", placed_messages(few)), "."),
    if (nrow(found) > nrow(few)) paste0(count_of(nrow(found) - nrow(few), "further note"), ": --long")
  )
}

# "harbour, tunnel: frames take 3.0 times as long for the first 0.60 to 1.4 s."
loading_caveat <- function(found) {
  found <- found[found$code == "loading", , drop = FALSE]
  if (!nrow(found)) {
    return(NULL)
  }
  of <- function(name) vapply(found$values, function(v) v[[name]], 1)
  slow <- of("factor") > 1
  each <- lapply(unique(slow), function(s) {
    mine <- slow == s
    factor <- unique(show_number(range(if (s) of("factor")[mine] else 1 / of("factor")[mine]), 2))
    span <- unique(show_number(range(c(of("from")[mine], of("to")[mine])), 2))
    paste0(
      some_of(unique(found$workload[mine]), 3), ": frames ", if (s) "take " else "come ",
      paste(factor, collapse = " to "), " times as ", if (s) "long" else "fast", " for the first ",
      paste(span, collapse = " to "), " s."
    )
  })
  unlist(each)
}

#' Why rows are what they are, each reason once with all it holds for
#' @noRd
row_caveats <- function(rows, labels) {
  each <- code_rows(rows)
  each <- Filter(function(one) !one$code$code %in% said_in_rows, each)
  kind <- vapply(each, function(one) one$code$code, "")
  unlist(lapply(unique(kind), function(name) {
    mine <- each[kind == name]
    short <- short_caveats[[name]]
    if (!is.null(short)) short(mine, rows, labels) else usual_caveats(mine, rows, labels)
  }))
}

# every code with the row that has it
code_rows <- function(rows) {
  unlist(lapply(seq_len(nrow(rows)), function(i) {
    lapply(rows$codes[[i]], function(code) list(code = code, row = plain_table(rows)[i, , drop = FALSE]))
  }), recursive = FALSE)
}

usual_caveats <- function(mine, rows, labels) {
  text <- vapply(mine, function(one) code_text(one$code), "")
  where <- vapply(mine, function(one) row_name(one$row, rows, labels), "")
  vapply(unique(text), function(t) {
    of <- unique(where[text == t])
    paste0(if (any(nzchar(of))) paste0(some_of(of, 3), ": "), sub("[.]$", "", t), ".")
  }, "", USE.NAMES = FALSE)
}

# as much of "harbour average 2000 Hz" as it takes to know the row among all
row_name <- function(row, rows, labels) {
  several <- function(column) length(unique(rows[[column]])) > 1
  place <- place_names(row)
  paste(c(
    if (length(unique(place_names(rows))) > 1) place,
    if (several("metric")) short_labels(row$metric, labels, rows$metric),
    if (several("arm")) arm_names(row$arm, labels)
  ), collapse = " ")
}

values_of <- function(mine, name) vapply(mine, function(one) empty_to(one$code$values[[name]], NA_real_)[1], 1)
span_words <- function(values, suffix = " %") {
  paste0(paste(unique(show_number(range(values), 2)), collapse = " to "), suffix)
}

noise_span <- function(mine) {
  first <- mine[[1]]$code$values
  span_words(values_of(mine, "noise"), show_suffix(first$scale, empty_na(empty_to(first$unit, ""))))
}

# codes that are told for all rows at once
short_caveats <- list(
  rare_unseen = function(mine, rows, labels) {
    paste0("negligible: a loss in fewer than ", span_words(values_of(mine, "share")), " of passes could be missed.")
  },
  order_not_known = function(mine, rows, labels) tipping_caveat(mine),
  tipping = function(mine, rows, labels) paste("Same order in every block.", tipping_caveat(mine)),
  only_excluded = function(mine, rows, labels) {
    said <- vapply(mine, function(one) paste(row_name(one$row, rows, labels), one$code$values$then), "")
    place <- vapply(mine, function(one) place_names(one$row), "")
    # a place that was just named is not named again
    again <- duplicated(place) & startsWith(said, paste0(place, " "))
    said[again] <- substring(said[again], nchar(place[again]) + 2)
    paste0("Exclusions counted: ", some_of(trimws(said), 6), ".")
  },
  break_even = function(mine, rows, labels) {
    paste0(
      "The gap exceeds the noise (", show_share(rows$confidence[1]), ") only if one pass varies by less than ",
      noise_span(mine), "."
    )
  },
  both_held = function(mine, rows, labels) {
    # a group that is blocked as a whole says why above its rows
    left <- Filter(function(one) {
      here <- rows[cell_key(rows) == cell_key(one$row), , drop = FALSE]
      is.null(blocked_together(here))
    }, mine)
    if (length(left)) usual_caveats(left, rows, labels)
  }
)

tipping_caveat <- function(mine) {
  paste0(
    "An order effect of ", noise_span(mine), " would bring ",
    if (length(mine) == 1) "the interval" else "these intervals",
    " to 0 (tipping point)."
  )
}

#' What to do next: sentences, and commands to paste
#'
#' @param rows Those that are shown. @param found Findings in words.
#' @param commands From `follow_ups()`; `NULL` in R.
#' @return A list: `said` (sentences), `commands` (each named by what it is for).
#' @noRd
next_steps <- function(verdicts, rows, found, commands = NULL) {
  x <- what_was_weighed(verdicts)
  paste_these <- c(
    more_command(verdicts, rows, x),
    if (any(found$check == "loading") && length(commands$firm)) {
      c(`without the slow start` = to_paste(commands$firm))
    },
    c(`reasons, outcomes` = if (is.null(commands)) {
      "print(x, long = TRUE)"
    } else {
      to_paste(c(commands$again, "--long"))
    })
  )
  said <- unique(c(
    if (any(never_held(rows))) {
      paste("find out why", list_words(arm_names(unique(rows$arm[never_held(rows)]), labels_of(verdicts))), "fails")
    },
    if (any(has_code(rows$codes, "one_pass_each"))) "run each arm three times or more, interleaved",
    ceiling_step(found),
    if (any(found$check == "order_unknown") && !all(rows$verdict == "no basis")) {
      if (is_study(x)) "record the order in which the passes ran" else "add a column order (1, 2, 3 ...)"
    },
    if (all(is.na(rows$worth)) && any(rows$verdict[!rows$metric %in% names(known_outcome_metrics())] %in% c(
      "gain", "loss", "unclear"
    ))) {
      "name the smallest change worth having (--worth 2)"
    }
  ))
  list(said = said, commands = paste_these)
}

ceiling_step <- function(found) {
  held <- found$workload[found$check == "ceiling"]
  if (length(held)) {
    paste0("lift the frame limiter in ", some_of(unique(held), 3), " and run again")
  }
}

# the command that adds the passes which would settle what is unclear
more_command <- function(verdicts, rows, x) {
  more <- rows$more_passes[rows$verdict == "unclear"]
  more <- more[is.finite(more)]
  if (!length(more) || !is_study(x) || is.null(x$sealed) || isTRUE(x$plan$setting$one_way)) {
    return(NULL)
  }
  blocks <- ceiling(max(more) / block_size(x))
  verb <- if (go_on_counting(verdicts)) "extend" else "repeat"
  c(`settle what is unclear` = to_paste(c(verb, x$folder, "--blocks", blocks)))
}

block_size <- function(x) {
  counted <- x$passes[x$passes$role == "counted" & !is.na(x$passes$block), , drop = FALSE]
  each <- table(paste(counted$workload, counted$context, counted$arm, counted$block, sep = "\r"))
  if (length(each)) max(1, stats::median(each)) else 1
}
