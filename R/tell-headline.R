# The answer of a whole study in a few short sentences: never more than its rows say.

#' A study in one paragraph
#'
#' @param x What [weigh()] returned, or a study.
#' @return One text on the primary comparisons: which arms never held, lose or gain, where, and by how much; which arms
#'   failed; how many of the others are negligible, unclear, blocked or without basis, each by its name. `NULL` where
#'   each arm is compared with each, and where nothing is primary. Of steps (`against = "previous"`) what all of them
#'   brought.
#' @export
#' @examples
#' headline(read_study(demo_study()))
headline <- function(x) {
  verdicts <- weighed(x)
  rows <- plain_table(verdicts)[verdicts$role == "primary", , drop = FALSE]
  labels <- labels_of(verdicts)
  if (nrow(rows) && is_stepwise(verdicts)) {
    failed <- failed_sentences(outcome_table(verdicts), rows, labels)
    return(paste(c(climb_headline(step_rows(rows), labels), unname(failed)), collapse = " "))
  }
  if (!nrow(rows) || has_pairs(rows)) {
    return(NULL)
  }
  arms <- unique(rows$arm)
  # what is bad first
  rank <- vapply(arms, function(arm) arm_rank(rows[rows$arm == arm, , drop = FALSE]), 1)
  table <- outcome_table(verdicts)
  said <- lapply(stats::setNames(nm = arms[order(rank)]), function(arm) {
    arm_sentences(rows[rows$arm == arm, , drop = FALSE], rows, table, labels)
  })
  failed <- failed_sentences(table, rows, labels)
  # what is left of an arm that failed is told after that it did
  said <- unlist(lapply(names(said), function(arm) {
    c(if (length(said[[arm]])) unname(failed[names(failed) == arm]), said[[arm]])
  }), use.names = FALSE)
  left <- rows[!speaks(rows), , drop = FALSE]
  paste(c(
    said, unname(failed[!failed %in% said]), left_sentence(left, length(said) > 0, rows, labels),
    if (any(has_code(verdicts$codes[verdicts$role == "primary"], "order_not_known"))) {
      "Run order unknown: order effects are not ruled out."
    },
    read_clause(verdicts)
  ), collapse = " ")
}

# comparisons that have a sentence of their own
speaks <- function(rows) never_held(rows) | is_lost(rows$verdict) | is_won(rows$verdict)

is_lost <- function(verdict) verdict %in% c("loss", "clear loss")
is_won <- function(verdict) verdict %in% c("gain", "clear gain")

arm_rank <- function(mine) {
  if (any(never_held(mine))) {
    1
  } else if (any(is_lost(mine$verdict))) {
    2
  } else {
    3
  }
}

# "2000 Hz does not hold: all 5 passes crashed." "2000 Hz loses in harbour: average -3.4 % (clear loss)."
arm_sentences <- function(mine, rows, table, labels) {
  dead <- never_held(mine)
  c(
    if (any(dead)) dead_sentence(mine[dead, , drop = FALSE], mine, table, labels),
    differing_sentence(mine[is_lost(mine$verdict) & !dead, , drop = FALSE], "loses", rows, labels),
    differing_sentence(mine[is_won(mine$verdict) & !dead, , drop = FALSE], "gains", rows, labels)
  )
}

dead_sentence <- function(dead, mine, table, labels) {
  arm <- mine$arm[1]
  ended <- table[table$arm == arm & table$failed > 0, , drop = FALSE]
  ended <- ended[outcome_places(ended) %in% place_names(dead[c("workload", "context")]), , drop = FALSE]
  everywhere <- all(never_held(mine))
  paste0(
    arm_names(arm, labels), " does not hold", if (!everywhere) paste0(" in ", listed_places(dead)),
    if (nrow(ended)) {
      n <- sum(ended$tried)
      paste0(": ", if (n == 1) "its one pass" else paste("all", n, "passes"), " ", failed_verb(ended))
    }, "."
  )
}

# where there is one comparison it is told with its interval and its worth
differing_sentence <- function(mine, verb, rows, labels) {
  if (!nrow(mine)) {
    return(NULL)
  }
  mark <- exclusion_mark(mine)
  arm <- arm_names(mine$arm[1], labels)
  if (nrow(rows) == 1) {
    return(paste0(
      arm, " ", verb, ": ", change_in_words(mine, labels), " (", shown_interval(mine), "), ", mine$verdict, mark,
      worth_clause(mine), "."
    ))
  }
  if (identical(unique(place_names(rows)), "main")) {
    return(paste0(arm, " ", verb, ": ", metrics_words(mine, labels, rows$metric), mark, "."))
  }
  place <- place_names(mine)
  parts <- split(mine, factor(place, unique(place)))
  each <- vapply(parts, metrics_words, "", labels = labels, among = rows$metric)
  more <- length(each) - 3
  paste0(
    arm, " ", verb, " in ", paste0(names(utils::head(each, 3)), ": ", utils::head(each, 3), collapse = "; in "),
    if (more > 0) paste0("; and in ", count_of(more, "further place")), mark, "."
  )
}

worth_clause <- function(row) if (!is.na(row$worth)) paste("; worth", worth_words(row))

change_in_words <- function(rows, labels, among = rows$metric) {
  paste0(
    short_labels(rows$metric, labels, among), " ", ifelse(has_code(rows$codes, "at_least"), "at least ", ""),
    # a rate over none has counts, and no change in percent
    sub(", $", "", paste0(counted_words(rows), shown_change(rows)))
  )
}

metrics_words <- function(rows, labels, among) {
  each <- paste0(change_in_words(rows, labels, among), " (", rows$verdict, ")")
  if (length(each) > 4) some_of(each, 3) else list_words(each)
}

# a gain or a loss that is there only because somebody left a pass out is never told without that
exclusion_mark <- function(rows) {
  gone <- vapply(seq_len(nrow(rows)), function(i) {
    then <- code_of(rows$codes[[i]], "only_excluded")$then
    !is.null(then) && sub("^clear ", "", then) != sub("^clear ", "", rows$verdict[i])
  }, NA)
  if (any(gone)) {
    paste0(
      " (", if (!all(gone)) paste(sum(gone), "of these", nrow(rows), ""), "not so with the excluded passes counted)"
    )
  }
}

# named by arm: "500 Hz crashed in 1 of 5 passes of tunnel.", of whatever arm failed anywhere and has no sentence of
# its own for it
failed_sentences <- function(table, rows, labels) {
  table <- table[table$failed > 0 & !table$arm %in% rows$arm[never_held(rows)], , drop = FALSE]
  # where it failed may be none of the places that are shown
  many <- length(unique(c(place_names(rows), outcome_places(table)))) > 1
  vapply(stats::setNames(nm = unique(table$arm)), function(arm) {
    mine <- table[table$arm == arm, , drop = FALSE]
    each <- paste0(
      mine$failed, " of ", vapply(mine$tried, count_of, "", one = "pass", many = "passes"),
      if (many) paste0(" of ", outcome_places(mine))
    )
    paste0(arm_names(arm, labels), " ", failed_verb(mine), " in ", some_of(each, 2), ".")
  }, "")
}

# what has no sentence of its own: one comparison in words, several counted, each verdict by its name
left_sentence <- function(left, more, rows, labels) {
  if (!nrow(left)) {
    return(NULL)
  }
  if (all(left$verdict == "no basis") && !more) {
    return(no_basis_sentence(left, labels))
  }
  if (nrow(rows) == 1) {
    return(paste0(
      arm_names(left$arm, labels), " is ", left$verdict, ": ",
      if (left$verdict == "blocked") {
        main_reason(left)
      } else {
        paste0(
          change_in_words(left, labels), " (", shown_interval(left), ")", worth_clause(left)
        )
      }, "."
    ))
  }
  n <- table(factor(left$verdict, unique(c("negligible", "unclear", "blocked", "no basis", left$verdict))))
  n <- n[n > 0]
  word <- ifelse(names(n) == "no basis", "without basis", names(n))
  if (nrow(left) == 1) {
    return(paste0("The other comparison is ", word, "."))
  }
  if (length(n) == 1) {
    of <- if (more) paste("The other", nrow(left)) else if (nrow(left) == 2) "Both" else paste("All", nrow(left))
    return(paste0(of, " comparisons are ", word, "."))
  }
  each <- paste(n, word)
  each[1] <- sub(" ", if (n[1] == 1) " is " else " are ", each[1])
  paste0("Of ", if (more) "the other ", nrow(left), " comparisons, ", list_words(each), ".")
}

no_basis_sentence <- function(left, labels) {
  once <- all(has_code(left$codes, "one_pass_each"))
  measured <- left[!is.na(left$change), , drop = FALSE]
  said <- if (nrow(measured) && nrow(measured) <= 3) {
    several <- function(values) if (length(unique(values)) > 1) values else rep(NA, length(values))
    what <- cbind(
      several(place_names(measured)), several(short_labels(measured$metric, labels)),
      several(arm_names(measured$arm, labels)), shown_change(measured)
    )
    each <- apply(what, 1, function(words) paste(words[!is.na(words)], collapse = " "))
    paste0(" Measured: ", list_words(each), ".")
  }
  paste0("No basis: ", if (once) "one pass per arm does not show the noise" else main_reason(left), ".", said)
}

# "quay (high) and tower (high)"
listed_places <- function(rows) {
  more <- function(text) ifelse(is.na(text), "", paste0(" (", text, ")"))
  place <- unique(paste0(rows$workload, more(rows$segment), more(rows$context)))
  if (length(place) > 3) paste(length(place), "places") else list_words(place)
}

#' What heads a figure: which arms lose or gain, in few words; `NULL` where each arm is compared with each
#' @noRd
found_title <- function(rows, labels) {
  rows <- plain_table(rows)
  if (has_pairs(rows)) {
    return(NULL)
  }
  in_places <- function(some) {
    place <- unique(place_names(some))
    if (identical(place, "main")) "" else paste0(" in ", if (length(place) > 3) "several places" else list_words(place))
  }
  of <- function(hit, verb) {
    arms <- unique(rows$arm[hit])
    if (length(arms)) {
      each <- vapply(arms, function(arm) {
        mine <- rows[hit & rows$arm == arm, , drop = FALSE]
        paste0(
          arm_names(arm, labels), " ", verb, in_places(mine),
          # which number is of which place is too much for a title
          if (length(unique(place_names(mine))) == 1) {
            paste0(": ", list_words(paste(short_labels(mine$metric, labels, rows$metric), shown_change(mine))))
          }
        )
      }, "")
      paste(each, collapse = "; ")
    }
  }
  said <- c(of(is_lost(rows$verdict), "loses"), of(is_won(rows$verdict), "gains"))
  if (length(said)) {
    return(paste(said, collapse = "; "))
  }
  words <- setdiff(rows$verdict, "blocked")
  if (length(words) && all(words == "negligible")) {
    return(paste0("No difference worth having", in_places(rows)))
  }
  if (length(words) && all(words %in% c("negligible", "unclear"))) paste0("No difference is clear yet", in_places(rows))
}
