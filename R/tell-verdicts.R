# Verdicts in words, the same on every face.

#' Names and units that go with a table: the question, the setting, its metrics
#' @noRd
labels_of <- function(x) empty_to(attr(x, "labels"), plan_labels(NULL))

metric_labels <- function(ids, labels) {
  label <- if (is.null(labels$metrics)) rep(NA, length(ids)) else labels$metrics[ids]
  unname(ifelse(is.na(label), ids, label))
}

#' Labels without what tells definitions apart ("1 % low (quantile)"), where only one of them is looked at
#' @param among Ids of all metrics that are looked at.
#' @noRd
short_labels <- function(ids, labels, among = ids) {
  all <- metric_labels(unique(among), labels)
  short <- sub(" *[(][^()]*[)]$", "", all)
  short <- ifelse(short %in% short[duplicated(short)] | !nzchar(short), all, short)
  short[match(ids, unique(among))]
}

# by its own name where the plan gives one, else by its value and unit
arm_names <- function(arms, labels) {
  label <- unname(labels$arms[show_exact(arms, 15)])
  if (is.null(label)) with_unit(arms, labels$unit) else ifelse(is.na(label), with_unit(arms, labels$unit), label)
}

plain_answers <- c(
  `clear gain` = "a gain beyond the worth", `clear loss` = "a loss beyond the worth",
  negligible = "no difference worth having", moved = "moved, which nobody had asked about",
  gain = "a gain, perhaps below the worth", loss = "a loss, perhaps below the worth",
  unclear = "not clear yet", blocked = "these passes cannot answer", `no basis` = "noise not known",
  `does not hold` = "does not hold"
)

#' Verdicts as sentences
#'
#' @param x What [weigh()] returned, or a study.
#' @param ... Not used.
#' @param by `"workload"` for one sentence per workload (and context) on its
#'   primary comparisons, `"verdict"` for one per row.
#' @return A character vector, named by workload (`by = "workload"`), or one
#'   element per row. Exploratory rows are marked as such.
#' @export
#' @examples
#' sentences(weigh(read_study(demo_study())))
sentences <- function(x, ..., by = "workload") {
  assert_no_dots(...)
  checkmate::assert_choice(by, c("workload", "verdict"))
  verdicts <- weighed(x)
  labels <- labels_of(verdicts)
  if (by == "verdict") {
    return(vapply(seq_len(nrow(verdicts)), function(i) row_sentence(verdicts[i, ], labels), ""))
  }
  parts <- sentence_parts(verdicts)
  said <- vapply(seq_along(parts), function(i) workload_sentence(parts[[i]], names(parts)[i], labels), "")
  stats::setNames(said, names(parts))
}

#' The primary rows that one sentence is about, named by workload
#'
#' Where each arm is compared with each, there is one for each that others are compared with.
#' @noRd
sentence_parts <- function(verdicts) {
  primary <- verdicts[verdicts$role == "primary", , drop = FALSE]
  place <- place_names(primary)
  by <- paste(place, if (has_pairs(primary)) primary$baseline, sep = "\r")
  parts <- split(primary, factor(by, unique(by)))
  stats::setNames(parts, place[match(names(parts), by)])
}

half_width <- function(rows) (rows$upper - rows$lower) / 2
shown_change <- function(rows) {
  ifelse(is.finite(rows$change), show_change(rows$change, rows$scale, rows$unit, half_width(rows)), "")
}

#' "-4.9 to -1.8 %", empty where there is none
#' @noRd
shown_interval <- function(rows) {
  width <- half_width(rows)
  text <- paste(
    show_change(rows$lower, "absolute", "", width), "to", show_change(rows$upper, rows$scale, rows$unit, width)
  )
  # a rate over none has no upper end
  endless <- is.infinite(rows$upper)
  text[endless] <- paste(show_change(rows$lower[endless], rows$scale[endless], rows$unit[endless]), "or more")
  ifelse(is.na(rows$lower), "", text)
}

#' Are arms compared with more than one other in the same place?
#' @noRd
has_pairs <- function(rows) {
  place <- cell_key(rows)
  any(duplicated(place[!duplicated(paste(place, rows$baseline, sep = "\r"))]))
}

#' What was compared with: "125 Hz", or "a (in ultra: b)" where it did not run everywhere
#' @noRd
baseline_words <- function(rows) {
  labels <- labels_of(rows)
  if (has_pairs(rows)) {
    return("the other arm of each pair")
  }
  usual <- names(sort(table(rows$baseline), decreasing = TRUE))[1]
  other <- rows[rows$baseline != usual, , drop = FALSE]
  other <- other[!duplicated(place_names(other)), , drop = FALSE]
  paste0(arm_names(usual, labels), if (nrow(other)) {
    paste0(" (in ", paste0(other$context, ": ", arm_names(other$baseline, labels), collapse = ", in "), ")")
  })
}

#' What the confidence is about
#' @noRd
family_words <- function(verdicts) {
  sure <- show_share(verdicts$confidence[1])
  family <- max(verdicts$family_size)
  looks <- if (isTRUE(attr(verdicts, "looks"))) ", however often one looked"
  if (family == 1) {
    return(paste0("Confidence ", sure, looks, "."))
  }
  paste0(
    if (family == 2) "Both" else paste("All", family), " intervals hold together at ", sure, looks, ".",
    moderated_words(attr(verdicts, "moderated"))
  )
}

# that the noise of a comparison is not its own alone, and how much of it
moderated_words <- function(moderated) {
  if (!is.null(moderated)) {
    paste0(
      " The noise of each comparison is steadied by that of ", moderated$cells, " cells (worth ",
      paste(unique(show_number(moderated$df, 2)), collapse = " to "), " degrees of freedom; without: --own-noise)",
      if (length(moderated$source)) {
        known <- moderated$source[1]
        paste0(", relative to ", known, if (startsWith(known, "the noise memory")) "; without: --no-memory")
      }, "."
    )
  }
}

#' What was not asked for and moved all the same, beside how much of it would by chance
#' @noRd
unasked_words <- function(verdicts) {
  rows <- verdicts[verdicts$role == "exploratory" & !is.na(verdicts$differs), , drop = FALSE]
  if (!nrow(rows)) {
    return(NULL)
  }
  paste0(
    sum(rows$verdict == "moved"), " of ", count_of(nrow(rows), "exploratory comparison"), " moved; expect about ",
    round((1 - rows$confidence[1]) * nrow(rows)), " by chance"
  )
}

list_words <- function(words) {
  n <- length(words)
  if (n < 2) words else paste(paste(words[-n], collapse = ", "), "and", words[n])
}

arm_list <- function(arms, labels) {
  if (any(arms %in% names(labels$arms))) {
    return(list_words(arm_names(arms, labels)))
  }
  with_unit(list_words(arms), labels$unit)
}

row_sentence <- function(row, labels) {
  about <- paste0(
    place_names(row), ", ", metric_labels(row$metric, labels), ", ", arm_names(row$arm, labels), " against ",
    arm_names(row$baseline, labels), ": "
  )
  measured <- if (!is.na(row$change) && row$verdict != "blocked") {
    paste0(shown_change(row), if (is.na(row$lower)) " measured" else paste0(" (", shown_interval(row), ")"))
  }
  more <- if (row$verdict == "unclear") more_words(row)
  paste0(
    about, paste(c(measured, plain_answers[[row$verdict]], more), collapse = ", "),
    if (nzchar(row$reason)) paste0(" (", row$reason, ")"), if (row$role == "exploratory") " [exploratory]", "."
  )
}

#' How many passes would settle what is unclear
#'
#' Those of a fresh batch that is weighed alone; where looks are allowed for, or where further studies are added to
#' those at hand, as many more.
#' @param rows Verdicts. @param unit Where it is not that of the rows.
#' @noRd
more_words <- function(rows, unit = rows$unit_of_replication) {
  unit <- empty_to(unit[!is.na(unit)], "pass")[1]
  more <- max(rows$more_passes)
  if (is.na(more)) {
    return(NULL)
  }
  if (!is.finite(more)) {
    return("no number of passes would settle it")
  }
  many <- plural_of(unit)
  if (more > 1000) {
    about <- format(more, big.mark = " ")
    return(paste0("no realistic number of ", many, " would settle it (about ", about, " per arm)"))
  }
  if (go_on_counting(rows)) {
    return(paste0("about ", count_of(more, paste("more", unit), paste("more", many)), " per arm would settle it"))
  }
  paste0("a fresh batch of about ", count_of(more, unit, many), " per arm would settle it")
}

#' Do the passes at hand count beside further ones?
#' @noRd
go_on_counting <- function(rows) isTRUE(attr(rows, "looks")) || !is.null(attr(rows, "levels"))

workload_sentence <- function(rows, place, labels) {
  ended <- rows$metric %in% names(known_outcome_metrics()) & rows$verdict == "unclear"
  lumps <- has_code(rows$codes, "two_lumps")
  marks <- failure_marks(rows, here = !any(rows$metric %in% names(known_outcome_metrics())))
  never <- never_held(rows)
  is_in <- function(words) rows[rows$verdict %in% words & !ended & !never & !lumps, , drop = FALSE]
  differing <- is_in(c("clear gain", "clear loss", "gain", "loss"))
  clauses <- c(
    never_clauses(rows[never, , drop = FALSE], labels),
    differing_clauses(differing, labels, marks),
    grouped_clause(is_in("negligible"), "no difference worth having: ", labels),
    ended_clauses(rows[ended, , drop = FALSE], labels),
    grouped_clause(is_in("unclear"), "unclear: ", labels, more_words),
    lump_clauses(rows[lumps, , drop = FALSE], labels),
    grouped_clause(is_in("blocked"), "blocked: ", labels, main_reason),
    unknown_clause(is_in("no basis"), labels),
    mark_clauses(marks[setdiff(names(marks), differing$arm)], rows$baseline[1], labels),
    if (any(has_code(differing$codes, "order_not_known"))) "run order unknown"
  )
  paste0(place, ", against ", arm_names(rows$baseline[1], labels), ": ", paste(clauses, collapse = "; "), ".")
}

# the first code says why; those behind it are about one arm only
main_reason <- function(rows) {
  first <- format(new_codes(lapply(rows$codes, utils::head, 1)))
  paste(unique(sub("; .*", "", first)), collapse = "; ")
}

verdict_verbs <- c(`clear gain` = "clearly gains", `clear loss` = "clearly loses", gain = "gains", loss = "loses")

differing_clauses <- function(rows, labels, marks) {
  key <- factor(paste(rows$arm, rows$verdict), unique(paste(rows$arm, rows$verdict)))
  vapply(split(rows, key), function(mine) {
    words <- paste0(
      metric_labels(mine$metric, labels), " ", ifelse(has_code(mine$codes, "at_least"), "at least ", ""),
      counted_words(mine),
      shown_change(mine), " (", shown_interval(mine), ")"
    )
    paste0(
      arm_list(mine$arm[1], labels), " ", verdict_verbs[[mine$verdict[1]]], ": ", list_words(words),
      if (mine$arm[1] %in% names(marks)) paste0(", but ", marks[[mine$arm[1]]])
    )
  }, "", USE.NAMES = FALSE)
}

# what was measured is told, and what it would take for it to stand
unknown_clause <- function(rows, labels) {
  label <- metric_labels(rows$metric, labels)
  measured <- shown_change(rows)
  stands <- vapply(seq_len(nrow(rows)), function(i) {
    v <- code_of(rows$codes[[i]], "break_even")
    if (is.null(v)) "" else paste0(", exceeds the noise only if one pass varies by less than ", show_noise(v))
  }, "")
  rows$metric <- ifelse(nzchar(measured), paste0(label, " (measured ", measured, stands, ")"), label)
  grouped_clause(rows, "no basis: ", list(metrics = NULL, arms = labels$arms, unit = labels$unit), main_reason)
}

# "no difference worth having: 500 and 1000 Hz in 1 % low"
grouped_clause <- function(rows, words, labels, why = function(r) NULL) {
  if (!nrow(rows)) {
    return(NULL)
  }
  arms <- factor(rows$arm, unique(rows$arm))
  by_arm <- vapply(split(metric_labels(rows$metric, labels), arms), list_words, "")
  groups <- split(names(by_arm), factor(by_arm, unique(by_arm)))
  said <- vapply(names(groups), function(metrics) paste(arm_list(groups[[metrics]], labels), "in", metrics), "")
  reason <- why(rows)
  paste0(words, paste(said, collapse = "; "), if (length(reason) && nzchar(reason)) paste0(" (", reason, ")"))
}
