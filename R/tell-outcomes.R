# Failures in words: an arm that failed anywhere is told so wherever it is named.

code_of <- function(codes, name, arm = NULL) {
  for (one in codes) if (one$code == name && (is.null(arm) || identical(one$values$arm, arm))) {
    return(one$values)
  }
}

#' "failed in 1 of 5 passes here and in 5 of 5 of heavy", for each arm that did
#'
#' @param rows Verdicts of one place. @param here `FALSE` where what happened here is told anyway.
#' @return Named by arm; empty where none failed.
#' @noRd
failure_marks <- function(rows, here = TRUE) {
  arms <- unique(c(rows$arm, rows$baseline))
  marks <- vapply(arms, function(arm) {
    codes <- unlist(unclass(rows$codes[rows$arm == arm | rows$baseline == arm]), recursive = FALSE)
    near <- if (here) code_of(codes, "failed", arm)
    far <- code_of(codes, "failed_elsewhere", arm)
    said <- c(
      if (!is.null(near)) paste0(near$n, " of ", count_of(near$of, "pass", "passes"), " here"),
      if (!is.null(far)) paste0(far$n, " of ", far$of, if (is.null(near)) " passes", " of ", some_of(far$places, 3))
    )
    if (length(said)) paste("failed in", paste(said, collapse = " and in ")) else ""
  }, "")
  marks[nzchar(marks)]
}

#' The same with the places by name, for where an arm is named once for all of them
#' @noRd
arm_marks <- function(rows) {
  arms <- unique(c(rows$arm, rows$baseline))
  marks <- vapply(arms, function(arm) {
    each <- which(rows$arm == arm | rows$baseline == arm)
    said <- unlist(lapply(each, function(i) {
      near <- code_of(rows$codes[[i]], "failed", arm)
      far <- code_of(rows$codes[[i]], "failed_elsewhere", arm)
      c(
        if (!is.null(near)) paste0(near$n, " of ", near$of, " in ", place_names(rows[i, c("workload", "context")])),
        if (!is.null(far)) paste0(far$n, " of ", far$of, " in ", some_of(far$places, 2))
      )
    }))
    if (length(said)) paste("failed", some_of(unique(said), 2)) else ""
  }, "")
  marks[nzchar(marks)]
}

# behind the answers: arms whose mark no clause carries
mark_clauses <- function(marks, baseline, labels) {
  vapply(names(marks), function(arm) {
    paste0(if (arm == baseline) "the baseline ", arm_names(arm, labels), " ", marks[[arm]])
  }, "", USE.NAMES = FALSE)
}

#' Rows of an arm that failed every time, whatever else is known of it
#' @noRd
never_held <- function(rows) {
  rows$verdict == "does not hold" | vapply(seq_len(nrow(rows)), function(i) {
    v <- code_of(rows$codes[[i]], "outcome_counts", rows$arm[i])
    !is.null(v) && v$of[1] > 0 && v$failed[1] == v$of[1] && rows$verdict[i] %in% c("loss", "clear loss", "moved")
  }, NA)
}

# "2000 Hz does not hold: 5 of 5 passes failed"
never_clauses <- function(rows, labels) {
  # what was counted tells more than that there was nothing to read
  rows <- rows[order(!rows$metric %in% "failed"), , drop = FALSE]
  rows <- rows[!duplicated(rows$arm), , drop = FALSE]
  vapply(seq_len(nrow(rows)), function(i) {
    codes <- rows$codes[[i]]
    v <- code_of(codes, "outcome_counts", rows$arm[i])
    n <- if (is.null(v)) code_of(codes, "no_reading_failed", rows$arm[i])$n else v$of[1]
    paste0(
      arm_names(rows$arm[i], labels), " does not hold: ", n, " of ", count_of(n, "pass", "passes"), " failed",
      if (!is.null(v)) paste0(", of the baseline ", v$failed[2], " of ", v$of[2]),
      if (isTRUE(rows$differs[i] == "yes")) paste0(" (more than chance: ", shown_interval(rows[i, ]), ")")
    )
  }, "")
}

# outcomes that differ by no more than chance may bring: what was seen, and what that still allows
ended_clauses <- function(rows, labels) {
  said <- vapply(seq_len(nrow(rows)), function(i) ended_words(rows[i, ], labels), "")
  arms <- split(rows$arm, factor(said, unique(said)))
  out <- vapply(names(arms), function(words) paste0(arm_list(arms[[words]], labels), " ", words), "", USE.NAMES = FALSE)
  more <- rows[is.finite(rows$more_passes) & rows$more_passes > 0, , drop = FALSE]
  c(out, if (nrow(more)) more_words(more))
}

ended_words <- function(row, labels) {
  v <- code_of(row$codes[[1]], "outcome_counts", row$arm)
  rate <- row$metric == "failures_per_hour" && is.finite(v$hours[1])
  over <- if (rate) paste0(" in ", show_number(v$hours[1]), " h")
  still <- if (rate) {
    paste0("up to ", show_number(v$possible_per_hour[1], 2), " failures an hour still possible")
  } else {
    paste0("up to ", show_number(v$possible[1], 2), " % may still fail")
  }
  if (v$failed[1] == 0) {
    passes <- if (v$of[1] == 1) "the one pass" else paste("all", v$of[1], "passes")
    held <- paste0("held ", passes, over, " (", still, ")")
    return(paste0(held, if (v$failed[2] > 0) paste0(", the baseline failed in ", v$failed[2], " of ", v$of[2])))
  }
  paste0(
    "failed in ", v$failed[1], " of ", count_of(v$of[1], "pass", "passes"), over, ", the baseline in ", v$failed[2],
    " of ", v$of[2], ": cannot tell yet whether that is more than chance"
  )
}

#' Failures and tries of both arms, as the number behind a change of them
#' @noRd
counted_words <- function(rows) {
  vapply(seq_len(nrow(rows)), function(i) {
    v <- code_of(rows$codes[[i]], "outcome_counts", rows$arm[i])
    if (is.null(v)) {
      return("")
    }
    over <- function(k) if (rows$metric[i] == "failures_per_hour") paste0(" in ", show_number(v$hours[k]), " h")
    paste0(v$failed[1], " of ", v$of[1], over(1), " against ", v$failed[2], " of ", v$of[2], over(2), ", ")
  }, "")
}

#' How the passes ended, as a table for people
#'
#' @param table From [outcome_table()].
#' @return Data frame of text.
#' @noRd
outcomes_shown <- function(table, labels) {
  kinds <- intersect(outcomes, names(table))
  bad <- setdiff(kinds, c("ok"))
  all_fell <- table$failed == table$tried
  share <- range_words(table$failed_lower, table$failed_upper, " %")
  share[all_fell] <- paste0("at least ", show_number(table$failed_lower[all_fell], 2), " %")
  share[table$tried == 0] <- ""
  ended <- vapply(seq_len(nrow(table)), function(i) {
    n <- unlist(table[i, bad, drop = FALSE])
    paste(n[n > 0], names(n)[n > 0], collapse = ", ")
  }, "")
  shown <- data.frame(
    workload = table$workload, context = empty_na(empty_to(table$context, NA_character_)),
    arm = arm_names(table$arm, labels),
    failed = ifelse(table$tried == 0, "", paste(table$failed, "of", table$tried)), how = ended, `failure rate` = share,
    exposure = ifelse(is.na(table$hours), "", vapply(3600 * empty_zero(table$hours), long_words, "")),
    # of minutes a rate per hour would say more than was seen
    `failures an hour` = ifelse(empty_zero(table$hours) < 0.1, "", range_words(
      table$per_hour_lower, table$per_hour_upper
    )),
    check.names = FALSE
  )
  for (column in c("context", "how", "exposure", "failures an hour")) {
    if (all(shown[[column]] == "")) shown[[column]] <- NULL
  }
  shown
}

#' "0.42 to 64 %", "up to 45 %": what limits say, with two digits
#' @noRd
range_words <- function(low, high, unit = "") {
  # two digits however small it is
  short <- function(v) show_exact(signif(v, 2))
  from <- ifelse(low > 0, paste0(short(low), " to "), "up to ")
  ifelse(is.na(high), "", paste0(from, short(high), unit))
}

outcomes_heading <- "How the passes ended"
outcomes_note <- paste(
  "failed: without passes you stopped or the tool lost. failure rate: 95 % limits, if passes fail independently."
)

#' Passes whose values do not count
#' @return Data frame `pass`, `workload`, `arm`, `outcome`, `role`, `reason`.
#' @noRd
passes_without_value <- function(passes) {
  gone <- passes$role %in% roles_left_out | !passes$outcome %in% outcomes_well
  rows <- with_columns(plain_table(passes), "reason")
  unique(rows[gone, c("pass", "workload", "arm", "outcome", "role", "reason")])
}

#' Names of arms, each with the failures that it must not be named without
#' @param failed From `failed_arms()`. @param short Where a sentence says how often and where.
#' @noRd
arms_with_failures <- function(arms, labels, failed, short = FALSE) {
  mark <- vapply(match(arms, failed$arm), function(i) {
    if (is.na(i)) {
      ""
    } else if (short) {
      " (failed)"
    } else {
      passes <- count_of(failed$tried[i], "pass", "passes")
      paste0(" (failed in ", failed$failed[i], " of ", passes, " of ", some_of(failed$places[[i]], 3), ")")
    }
  }, "")
  paste0(arm_names(arms, labels), mark)
}

#' A sentence for each arm that failed anywhere
#' @noRd
failed_arm_sentences <- function(failed, labels, arms = failed$arm) {
  failed <- failed[failed$arm %in% arms, , drop = FALSE]
  vapply(seq_along(failed$arm), function(i) {
    paste0(
      arm_names(failed$arm[i], labels), " failed in ", failed$failed[i], " of ",
      count_of(failed$tried[i], "pass", "passes"), " of ", some_of(failed$places[[i]], 3), "."
    )
  }, "")
}
