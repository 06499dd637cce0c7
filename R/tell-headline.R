# One line for a whole study: never more than its rows say.

#' A study in one line
#'
#' @param x What [weigh()] returned, or a study.
#' @return One sentence on the primary comparisons: which arms lose or gain, and where; which make no difference worth
#'   having, or show none yet; how many comparisons are open or cannot be answered. `NULL` where each arm is compared
#'   with each, and where nothing is primary.
#' @export
#' @examples
#' headline(read_study(demo_study()))
headline <- function(x) {
  verdicts <- weighed(x)
  rows <- plain_table(verdicts)[verdicts$role == "primary", , drop = FALSE]
  if (!nrow(rows) || has_pairs(rows)) {
    return(NULL)
  }
  told <- labels_of(verdicts)
  arms <- unique(rows$arm)
  phrase <- vapply(arms, function(arm) arm_phrase(rows[rows$arm == arm, , drop = FALSE], rows, told), "")
  # what is bad first, what is not known last
  kind <- vapply(arms, function(arm) phrase_rank(rows[rows$arm == arm, , drop = FALSE]), 1)
  said <- unique(phrase[order(kind)])
  clauses <- vapply(said, function(text) {
    mine <- arms[phrase == text]
    paste(arm_list(mine, told), plural_phrase(text, length(mine)))
  }, "", USE.NAMES = FALSE)
  clauses <- c(clauses, failed_clauses(outcome_table(verdicts), rows, told))
  unknown <- if (any(has_code(verdicts$codes[verdicts$role == "primary"], "order_not_known"))) {
    "; in what order the passes ran is not known"
  }
  paste0(paste(clauses, collapse = "; "), open_words(rows), unknown, ".")
}

# "500 Hz failed 1 of 5 in tunnel", of whatever arm failed anywhere and has no clause of its own for it
failed_clauses <- function(table, rows, told) {
  table <- table[table$failed > 0 & !table$arm %in% rows$arm[never_held(rows)], , drop = FALSE]
  place <- place_names(table[intersect(c("workload", "context"), names(table))])
  vapply(unique(table$arm), function(arm) {
    mine <- table$arm == arm
    each <- paste(table$failed[mine], "of", table$tried[mine], "in", place[mine])
    paste(arm_names(arm, told), "failed", some_of(each, 2))
  }, "", USE.NAMES = FALSE)
}

is_lost <- function(verdict) verdict %in% c("loss", "clear loss")
is_won <- function(verdict) verdict %in% c("gain", "clear gain")

phrase_rank <- function(mine) {
  verdict <- mine$verdict
  if (any(never_held(mine))) {
    1
  } else if (any(is_lost(verdict))) {
    2
  } else if (any(is_won(verdict))) {
    3
  } else if (all(verdict == "negligible")) {
    4
  } else {
    5
  }
}

# written for one arm, "loses"; several take it without its s
arm_phrase <- function(mine, rows, told) {
  where <- function(hit) {
    there <- mine[hit, , drop = FALSE]
    metrics <- metric_labels(unique(there$metric), told)
    paste0(
      "in ", listed_places(there),
      if (length(unique(rows$metric)) > 1) paste0(" (", some_of(metrics, 3), ")")
    )
  }
  dead <- never_held(mine)
  lost <- is_lost(mine$verdict) & !dead
  said <- c(
    if (any(dead)) paste0("does not hold", if (!all(dead)) paste0(" ", where(dead))),
    if (any(lost)) paste("loses", where(lost)),
    if (any(is_won(mine$verdict))) paste("gains", where(is_won(mine$verdict)))
  )
  if (length(said)) {
    rest <- mine$verdict[!dead & !lost & !is_won(mine$verdict)]
    if (length(rest) && all(rest == "negligible")) said <- c(said, "shows none worth having elsewhere")
    return(paste(said, collapse = " and "))
  }
  if (all(mine$verdict == "negligible")) {
    "makes no difference worth having"
  } else if (all(mine$metric %in% names(known_outcome_metrics()))) {
    "shows no difference in how its passes end"
  } else {
    "shows neither gain nor loss"
  }
}

# "quay (high) and tower (high)"
listed_places <- function(rows) {
  more <- function(text) ifelse(is.na(text), "", paste0(" (", text, ")"))
  place <- unique(paste0(rows$workload, more(rows$segment), more(rows$context)))
  if (length(place) > 3) paste(length(place), "places") else list_words(place)
}

plural_phrase <- function(text, n) {
  if (n == 1) {
    return(text)
  }
  for (verb in list(c("loses", "lose"), c("gains", "gain"), c("does not", "do not"), c("makes", "make"), c(
    "shows", "show"
  ), c("its passes", "their passes"))) {
    text <- gsub(paste0("\\b", verb[1], "\\b"), verb[2], text)
  }
  text
}

open_words <- function(rows) {
  open <- sum(rows$verdict == "unclear")
  mute <- sum(rows$verdict %in% c("blocked", "no basis"))
  all <- count_of(nrow(rows), "comparison")
  said <- c(
    if (open) paste(open, "of", all, if (open == 1) "is" else "are", "open"),
    if (mute) paste(mute, if (!open) paste("of", all), "cannot be answered from these passes")
  )
  if (length(said)) paste0("; ", gsub("  ", " ", paste(said, collapse = ", "))) else ""
}
