# One line for a whole study: never more than its rows say.

#' A study in one line
#'
#' @param x What [weigh()] returned, or a study.
#' @return One sentence on the primary comparisons: which arms never held, lose or gain, and where; which failed; how
#' many
#' of the others are negligible, unclear, blocked or without basis, each by its name. `NULL` where each arm is compared
#'
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
  said <- setdiff(unique(phrase[order(kind)]), "")
  clauses <- vapply(said, function(text) {
    mine <- arms[phrase == text]
    paste(arm_list(mine, told), plural_phrase(text, length(mine)))
  }, "", USE.NAMES = FALSE)
  clauses <- c(clauses, failed_clauses(outcome_table(verdicts), rows, told))
  left <- rows[!speaks(rows) & (!has_one_word(rows) | rows$arm %in% arms[kind < 4]), , drop = FALSE]
  clauses <- c(clauses, counted_verdicts(left$verdict, length(clauses) > 0))
  unknown <- if (any(has_code(verdicts$codes[verdicts$role == "primary"], "order_not_known"))) {
    "; in what order the passes ran is not known"
  }
  said <- paste0(paste(clauses, collapse = "; "), unknown, ".")
  # an arm keeps its own letters
  counted <- identical(clauses[1], counted_verdicts(left$verdict, FALSE))
  said <- if (counted) sub("^(.)", "\\U\\1", said, perl = TRUE) else said
  paste(c(said, read_clause(verdicts)), collapse = " ")
}

# comparisons that have a clause of their own
speaks <- function(rows) never_held(rows) | is_lost(rows$verdict) | is_won(rows$verdict)

# rows of arms of which every comparison has the same verdict
has_one_word <- function(rows) {
  rows$arm %in% names(Filter(function(v) length(unique(v)) == 1, split(rows$verdict, rows$arm)))
}

# "of the other 13 comparisons 6 are negligible, 4 unclear and 3 blocked": each verdict is counted under its own name
counted_verdicts <- function(verdict, more) {
  if (!length(verdict)) {
    return(NULL)
  }
  n <- table(factor(verdict, unique(c("negligible", "unclear", "blocked", "no basis", verdict))))
  n <- n[n > 0]
  each <- paste(n, ifelse(names(n) == "no basis", "without basis", names(n)))
  each[1] <- sub(" ", if (n[1] == 1) " is " else " are ", each[1])
  if (length(verdict) == 1) {
    return(paste(if (more) "the other comparison" else "the comparison", sub("^1 ", "", each)))
  }
  of <- paste0(if (more) "of the other " else "of ", length(verdict), " comparisons ")
  if (length(n) == 1) {
    of <- paste0(if (more) "the other " else "all ", length(verdict), " comparisons ")
    return(paste0(of, sub("^[0-9]+ (is|are) ", "are ", each)))
  }
  paste0(of, list_words(each))
}

# a gain or a loss that is there only because somebody left a pass out is never told without that
exclusion_mark <- function(rows) {
  hangs <- sum(has_code(rows$codes, "only_excluded"))
  if (hangs) {
    paste0(
      " (", if (hangs < nrow(rows)) paste(hangs, "of these", nrow(rows), ""),
      "not so with the excluded passes counted)"
    )
  }
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
    differing <- mine[is_lost(mine$verdict) | is_won(mine$verdict), , drop = FALSE]
    return(paste0(paste(said, collapse = " and "), exclusion_mark(differing)))
  }
  # what is counted with the rest has no phrase of its own
  if (length(unique(mine$verdict)) > 1) {
    return("")
  }
  switch(mine$verdict[1],
    negligible = "makes no difference worth having",
    unclear = if (all(is.finite(mine$more_passes))) "is unclear: more passes are needed" else "is unclear",
    blocked = "is blocked: these passes cannot answer", `no basis` = "has no basis: the noise is not known", ""
  )
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
  for (verb in list(
    c("loses", "lose"), c("gains", "gain"), c("does not", "do not"), c("makes", "make"), c("has", "have"), c("is",
      "are")
  )) {
    text <- sub(paste0("^", verb[1], "\\b"), verb[2], gsub(paste0(" and ", verb[1], " "), paste0(" and ", verb[2],
      " "), text))
  }
  text
}
