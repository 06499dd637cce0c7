# Rare events in words.

#' "harbour: deep drops in 2 of 5 passes at A, in none of 10 at B and C"
#' @param table From [event_table()]. @param by From `events_by_attribute()`, or `NULL`.
#' @return One sentence per place where there was any.
#' @noRd
event_sentences <- function(table, by, labels) {
  if (is.null(table) || !any(table$events > 0)) {
    return(character())
  }
  place <- place_names(table[c("workload", "context")])
  places <- unique(place[table$events > 0])
  vapply(places, function(p) {
    rows <- table[place == p, , drop = FALSE]
    if (!is_rare(rows)) {
      # what nearly every pass has is no rare event: it is weighed as a count
      return(paste0(
        p, ": deep drops in ", sum(rows$with), " of ", sum(rows$passes), " passes of all arms, so they are not rare",
        " here (weighed as deep_drops)."
      ))
    }
    pooled <- if (!is.null(by)) by[place_names(by[c("workload", "context")]) == p, , drop = FALSE]
    paste0(
      p, ": deep drops in ", with_words(rows, arm_names(rows$group, labels)),
      if (NROW(pooled)) paste0("; by ", pooled_words(pooled), " (arms pooled, exploratory)"), "."
    )
  }, "", USE.NAMES = FALSE)
}

is_rare <- function(rows) sum(rows$with) > 0 && 2 * sum(rows$with) <= sum(rows$passes)

#' Rare events of a study: what nearly every pass has is weighed as a count
#' @return As `rare_rows()`; `NULL` where there are none.
#' @noRd
rare_events <- function(x) {
  table <- event_table(x)
  if (!is.null(table)) rare_rows(table)
}

#' Rows of the places where events are rare, place by place
#' @noRd
rare_rows <- function(table) {
  place <- factor(place_names(table[c("workload", "context")]), unique(place_names(table[c("workload", "context")])))
  stack_rows(Filter(is_rare, split(table, place)))
}

with_words <- function(rows, names) {
  some <- rows$with > 0
  none <- if (any(!some)) {
    n <- sum(rows$passes[!some])
    paste0("in none of ", n, " at ", list_words(names[!some]), " (up to ", show_number(
      100 * possible_share(0, n)$upper, 2
    ), " % still possible)")
  }
  seen <- paste0(rows$with[some], " of ", rows$passes[some], " passes at ", names[some], ifelse(
    rows$events[some] > rows$with[some], paste0(" (", rows$events[some], " in all)"), ""
  ))
  paste(c(seen, none), collapse = ", ")
}

pooled_words <- function(pooled) {
  each <- split(pooled, factor(pooled$attribute, unique(pooled$attribute)))
  paste(vapply(names(each), function(a) {
    t <- each[[a]]
    paste0(a, ": ", paste0(t$with, " of ", t$passes, " with ", t$group, collapse = ", "))
  }, ""), collapse = "; ")
}

# a number that jumps between two levels is told by how often it jumps
lump_clauses <- function(rows, labels) {
  vapply(seq_len(nrow(rows)), function(i) {
    v <- code_of(rows$codes[[i]], "two_lumps")
    paste0(
      arm_names(rows$arm[i], labels), " in ", metric_labels(rows$metric[i], labels), ": a rare bad level, in ",
      v$low[1],
      " of ",
      count_of(v$of[1], "pass", "passes"), " against ", v$low[2], " of ", v$of[2], " (",
      more_words(rows[i, ], "pass"), ")"
    )
  }, "")
}

events_shown <- function(table, labels) {
  out <- data.frame(
    workload = table$workload, context = empty_na(table$context), arm = arm_names(table$group, labels),
    `passes with` = paste(table$with, "of", table$passes),
    `may have` = ifelse(table$with == table$passes, paste0("at least ", show_number(table$with_lower, 2), " %"),
      range_words(table$with_lower, table$with_upper, " %")
    ),
    drops = table$events, `per minute` = ifelse(is.na(table$minutes), "", show_number(table$per_minute, 2)),
    check.names = FALSE
  )
  if (all(out$context == "")) out$context <- NULL
  out
}

events_note <- paste(
  "A deep drop: at least 0.1 s in which every frame takes more than three times the pass's median frame time.",
  "may have: the share of passes that may have one, at 95 %."
)

#' "p012, on in quay: from 12.0 to 19.5 s at 60.0 fps, half of 120"
#' @param moments From `moments_of_study()`.
#' @noRd
stretch_sentences <- function(moments, labels) {
  rows <- moments$stretches
  if (!NROW(rows)) {
    return(character())
  }
  said <- paste0(
    rows$pass, ", ", arm_names(rows$arm, labels), " in ", place_names(rows[c("workload", "context")]), ": from ",
    show_number(rows$start_s, 3), " to ", show_number(rows$end_s, 3), " s at ", show_number(rows$rate, 3),
    " fps, half of ", show_number(rows$usual, 3)
  )
  paste0("At half the rate for a part: ", some_of(said, 6), ".")
}

# the deepest ten
drops_shown <- function(moments, labels) {
  rows <- utils::head(moments$drops, 10)
  if (!NROW(rows)) {
    return(NULL)
  }
  data.frame(
    pass = rows$pass, arm = arm_names(rows$arm, labels), place = place_names(rows[c("workload", "context")]),
    at = paste(show_number(rows$start_s, 3), "s"), lasted = paste(show_number(rows$seconds, 2), "s"),
    `down to` = paste(show_number(rows$rate, 2), "fps"), from = paste(show_number(rows$usual, 3), "fps"),
    `slowest frame` = paste(show_number(rows$slowest_ms, 3), "ms"), check.names = FALSE
  )
}
