# A search in words: what holds, what failed, what is still possible, what comes next.

#' @param x A search. @return Sentences; the first is the answer.
#' @noRd
search_sentences <- function(x) {
  labels <- plan_labels(x$plan)
  table <- search_table(x)
  c(
    search_answer(x, table, labels), search_held(x, table, labels), search_unclear(x, labels),
    search_failed(x, table, labels), search_knob(x, labels), search_soak(x, table)
  )
}

search_answer <- function(x, table, labels) {
  name <- function(arm) arm_names(arm, labels)
  now <- x$now
  way <- if (x$plan$search$goal == "lowest") "lowest" else "highest"
  start <- plan_arms(x$plan)[1]
  if (x$said$stop && now$do != "done") {
    best <- if (!is.na(now$good_arm)) paste("the", way, "that held so far is", name(now$good_arm))
    return(paste0("Stopped by the tester: ", empty_to(best, "nothing has held yet"), "."))
  }
  switch(empty_na(now$why),
    found = if (now$arm == start) {
      side <- if (way == "lowest") "below" else "above"
      paste0("Nothing ", side, " the start, ", name(start), ", holds at the distance asked for.")
    } else if (is.na(now$failed_arm) && !any(table$failed > x$plan$search$allowed)) {
      paste0(name(now$arm), " holds: the end of the range, and nothing failed on the way.")
    } else if (is.na(now$failed_arm)) {
      # one knob came to its end, another did not
      fell <- unique(table$arm[table$failed > x$plan$search$allowed])
      paste0(name(now$arm), " holds: the ", way, " that did; ", some_of(name(fell), 4), " failed.")
    } else {
      paste0(name(now$arm), " holds: the ", way, " that did, ", search_distance(x, now), ".")
    },
    start_fails = paste0("The start itself, ", name(start), ", does not hold: nothing can be looked for from there."),
    spent = paste0(
      "Not finished: the passes or hours that it may take are spent. ", name(now$arm), " held so far; it is not proven."
    ),
    paste0("Not finished. ", next_rung_words(x))
  )
}

search_distance <- function(x, now) {
  labels <- plan_labels(x$plan)
  numbers <- suppressWarnings(as.numeric(c(now$arm, now$failed_arm)))
  failed <- arm_names(now$failed_arm, labels)
  if (anyNA(numbers)) {
    return(paste("and", failed, "failed"))
  }
  paste0(with_unit(show_exact(abs(diff(numbers))), labels$unit), " away from ", failed, ", which failed")
}

next_rung_words <- function(x) {
  labels <- plan_labels(x$plan)
  now <- x$now
  if (nrow(x$asked)) {
    first <- x$asked[1, ]
    return(paste0("Next: try ", arm_names(first$arm, labels), " in ", first$workload, ", as it was asked for."))
  }
  known <- c(
    if (!is.na(now$good_arm)) paste("last good", arm_names(now$good_arm, labels)),
    if (!is.na(now$failed_arm)) paste("failed", arm_names(now$failed_arm, labels))
  )
  paste0(
    "Next: ", if (now$do == "soak") "soak " else "try ", arm_names(now$arm, labels), " in ", now$workload,
    if (now$do == "soak") paste0(", ", long_words(now$left), " more"),
    if (length(known)) paste0(" (", paste(known, collapse = ", "), ")"),
    if (!is.null(now$part)) ", to tell which knob failed", "."
  )
}

# what the value that was found went through
search_held <- function(x, table, labels) {
  arm <- x$now$arm
  rows <- table[table$arm %in% arm, , drop = FALSE]
  if (x$now$do != "done" || !NROW(rows)) {
    return(NULL)
  }
  parts <- vapply(seq_len(nrow(rows)), function(i) {
    row <- rows[i, ]
    paste0(
      row$workload, " ", row$held, " of ", count_of(row$passes, "pass", "passes"), " in ", long_words(3600 * row$hours),
      " (", possible_words(row), " still possible)"
    )
  }, "")
  paste0(arm_names(arm, labels), " held in ", paste(parts, collapse = ", in "), ".")
}

# passes that count for nothing are not passed over in silence
search_unclear <- function(x, labels) {
  arms <- x$steps$arm[is.na(x$steps$held) & x$steps$by %in% "unclear" & x$steps$role %in% search_roles]
  if (length(arms)) {
    paste0(
      count_of(length(arms), "pass", "passes"), " (", paste(arm_names(unique(arms), labels), collapse = ", "),
      ") fell short of the start by no more than passes vary: not counted, and the value is tried again."
    )
  }
}

search_failed <- function(x, table, labels) {
  rows <- table[table$failed > 0, , drop = FALSE]
  if (!NROW(rows)) {
    return(NULL)
  }
  arms <- unique(rows$arm)
  said <- vapply(arms, function(arm) {
    here <- rows[rows$arm == arm, , drop = FALSE]
    paste0(arm_names(arm, labels), " (", paste0(here$workload, ": ", here$how, collapse = "; "), ")")
  }, "")
  paste0("Failed: ", some_of(said, 6), ".")
}

#' Which knob failed, of several that are raised together
#' @noRd
search_knob <- function(x, labels) {
  now <- x$now
  parts <- parts_of(x$plan, x$steps, now$failed, now$good)
  if (is.null(parts) || !all(parts$settled)) {
    parted <- length(x$plan$search$ladders) > 1 && x$plan$search$moves == "together"
    if (parted && now$do == "done" && !is.na(now$failed) && isTRUE(now$good > 0)) {
      return(paste0("Which knob failed at ", arm_names(now$failed_arm, labels), " was not tried out."))
    }
    return(NULL)
  }
  knobs <- vapply(x$plan$search$knobs, `[[`, "", "name")
  fell <- parts$failed > x$plan$search$allowed
  n <- parts$held + parts$failed
  still <- short_rate(100 * possible_share(parts$failed, n)$upper)
  each <- paste0(arm_names(parts$arm, labels), ifelse(fell,
    paste0(" failed ", parts$failed, " of ", n),
    paste0(" held ", parts$held, " of ", n, " (up to ", still, " % of passes could still fail)")
  ))
  paste0(
    if (all(fell)) {
      "Each knob fails alone"
    } else if (any(fell)) {
      paste("The knob that failed is", paste(knobs[fell], collapse = " and "))
    } else {
      "No knob failed alone: it takes them together, or it fails too seldom to show in so few passes"
    },
    ". In ", parts$workload[1], " ", paste(each, collapse = "; "), "."
  )
}

search_soak <- function(x, table) {
  # asked of what is to hold for hours, and not of a number that is to stay above a floor
  if (is.null(x$plan$search$soak) && is.null(x$plan$search$at_most)) {
    return(NULL)
  }
  at_most <- empty_to(x$plan$search$at_most, 1)
  rows <- table[table$arm %in% x$now$arm & table$workload == utils::tail(x$plan$search$tests, 1), , drop = FALSE]
  if (x$now$do != "done" || !NROW(rows) || isTRUE(rows$possible_per_hour <= at_most)) {
    return(NULL)
  }
  paste0(
    "To show at most ", count_of(show_exact(at_most), "failure"), " an hour: ",
    long_words(3600 * soak_hours(at_most)), " of ", rows$workload[1], " without one."
  )
}

#' "up to 6 failures an hour", or of so many passes where its exposure is in minutes only
#' @param rows Of [search_table()].
#' @noRd
possible_words <- function(rows) {
  # of minutes a rate per hour would say more than was seen
  hourly <- rows$hours >= 0.1 & !is.na(rows$possible_per_hour)
  ifelse(hourly, paste("up to", short_rate(rows$possible_per_hour), "failures an hour"),
    paste("up to", short_rate(rows$possible_share), "% of passes failing")
  )
}

# "up to 6 an hour", "up to 31 %"
brief_possible <- function(rows) sub("failures ", "", sub(" of passes failing", "", possible_words(rows)))

short_rate <- function(x) {
  vapply(x, function(one) format(signif(one, 2), scientific = FALSE, big.mark = ",", decimal.mark = "."), "")
}

#' The ladder as a table for people: one row per value, one column per test
#' @param table From [search_table()].
#' @noRd
ladder_shown <- function(table, labels) {
  arms <- unique(table$arm)
  one <- table[match(arms, table$arm), , drop = FALSE]
  shown <- data.frame(value = arm_names(arms, labels), state = one$state, check.names = FALSE)
  for (test in unique(table$workload)) {
    rows <- table[table$workload == test, , drop = FALSE]
    at <- match(arms, rows$arm)
    shown[[paste(test, "held")]] <- ifelse(is.na(at), "", paste(rows$held, "of", rows$passes)[at])
  }
  sum_of <- function(column) vapply(arms, function(arm) sum(table[[column]][table$arm == arm]), 1)
  shown[["exposure"]] <- vapply(3600 * sum_of("hours"), long_words, "")
  last <- table[!duplicated(table$arm, fromLast = TRUE), , drop = FALSE]
  fell <- vapply(arms, function(arm) {
    rows <- table[table$arm == arm & table$failed > 0, , drop = FALSE]
    paste(rows$workload, rows$how, sep = ": ", collapse = "; ", recycle0 = TRUE)
  }, "")
  where <- if (length(unique(table$workload)) > 1) paste0(" (", last$workload, ")")
  shown[["failed by, or failure rate"]] <- ifelse(nzchar(fell), fell, paste0(brief_possible(last), where))
  shown
}

#' How a search goes, before it begins
#' @noRd
climb_words <- function(plan) {
  search <- plan$search
  labels <- plan_labels(plan)
  arms <- ladder_arms(plan)
  way <- if (search$goal == "lowest") "down" else "up"
  paste0(
    "Looks for the ", search$goal, " value of ", plan$setting$name, " that holds: ", way, " from ",
    arm_names(arms[1], labels), " to ", arm_names(utils::tail(arms, 1), labels), ", ",
    count_of(length(arms), "value"), if (search$pace == "halve") ", halving what is left",
    ". At each: ", paste(search$tests, collapse = ", then "), "; ", count_of(search[["repeat"]], "time"),
    " before it is believed. ",
    if (search$allowed > 0) {
      paste0("A value is allowed to fail ", count_of(search$allowed, "time"), " and still hold. ")
    },
    "After a failure it steps back ",
    if (is.null(search$back_off)) "one value" else with_unit(show_exact(search$back_off), plan$setting$unit),
    " from the value that failed, and tries nothing at or beyond it again.",
    if (search$moves == "together" && length(search$ladders) > 1 && search$part) {
      " Only each knob alone is tried at the value that failed, to tell which of them it was."
    },
    if (plan$blocks > 0) {
      paste0(" What is found is then compared with the start in ", count_of(plan$blocks, "block"), ".")
    }
  )
}

climb_length <- function(plan, schedule, seconds) {
  paste0(
    "If nothing fails: ", count_of(sum(schedule$role == "rung"), "pass", "passes"), " to climb",
    if (any(schedule$role == "soak")) paste0(", ", sum(schedule$role == "soak"), " to soak"),
    if (any(schedule$role == "counted")) paste0(", ", sum(schedule$role == "counted"), " to compare"),
    ", ", duration_words(seconds), "."
  )
}

# what a soak shows, and what it would take to show more
soak_words <- function(plan) {
  search <- plan$search
  at_most <- empty_to(search$at_most, 1)
  minutes <- empty_to(search$soak$minutes, 0)
  needed <- soak_hours(at_most)
  if (minutes == 0 && is.null(search$at_most) && length(search$fails)) {
    return(NULL)
  }
  shown <- if (minutes > 0) {
    paste0(
      "A soak of ", long_words(60 * minutes), " without a failure leaves up to ",
      short_rate(possible_rate(0, minutes / 60)$upper), " failures an hour possible (95 %). "
    )
  } else {
    "Without a soak a value that runs the tests may still fail within the hour. "
  }
  paste0(shown, if (minutes / 60 < needed) paste0(
    "To show at most ", count_of(show_exact(at_most), "failure"), " an hour: soak for ", long_words(3600 * needed), "."
  ))
}

#' A search turns to another value
#' @param facts `pass`, `now` (where the search stands).
#' @noRd
rung_line <- function(facts, plan) {
  labels <- plan_labels(plan)
  paste0(
    if (facts$pass$role == "soak") "soak " else "try ", arm_names(facts$pass$arm, labels),
    rung_words(list(
      good = facts$now$good_arm, failed = facts$now$failed_arm, unit = plan$setting$unit,
      left = if (facts$pass$role == "soak") facts$now$left
    )),
    if (!is.null(facts$now$part)) ", to tell which knob failed"
  )
}
