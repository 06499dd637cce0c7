# Which arm is good enough everywhere, in words.

#' @param x From `weigh_floors()`.
#' @return Sentences: the choice, then each arm that is not known to stay.
#' @noRd
floor_words <- function(x) {
  told <- labels_of(x)
  rows <- plain_table(x)
  rest <- lapply(attr(x, "order"), arm_floor_sentence, x = x, rows = rows, told = told)
  c(choice_sentence(x, rows, told), unlist(rest))
}

floors_named <- function(rows, told) {
  one <- rows[!duplicated(rows$metric), , drop = FALSE]
  list_words(paste(
    metric_labels(one$metric, told), ifelse(one$better == "lower", "at most", "at least"),
    with_unit_each(show_exact(one$floor), one$unit)
  ))
}

# one unit may be that of all
with_unit_each <- function(text, unit) {
  ifelse(rep_len(is.na(unit) | unit == "", length(text)), text, paste(text, unit))
}

choice_sentence <- function(x, rows, told) {
  asked <- paste0(floors_named(rows, told), if (attr(x, "next_pass")) ", in the next single pass too")
  chosen <- attr(x, "choice")
  if (is.na(chosen)) {
    unclear <- unique(rows$arm[stays_as_asked(x, rows) == "unclear"])
    return(paste0(
      "No arm is shown to keep ", asked, " everywhere",
      if (length(unclear)) paste0("; it cannot be told yet of ", arm_list(unclear, told)), "."
    ))
  }
  near <- attr(x, "decides")
  end <- if (near$better == "lower") near$upper else near$lower
  paste0(
    arm_names(chosen, told), " is the first that keeps ", asked, " everywhere; ", place_names(near),
    " decides: ", show_number(near$value), " (at ", if (near$better == "lower") "most " else "least ",
    with_unit_each(show_number(end), near$unit), ")."
  )
}

# of the mean, or where it was asked of the next single pass too
stays_as_asked <- function(x, rows) {
  if (attr(x, "next_pass")) ifelse(rows$stays == "yes" & rows$next_stays != "yes", "unclear",
    rows$stays) else rows$stays
}

arm_floor_sentence <- function(arm, x, rows, told) {
  if (identical(arm, unname(attr(x, "choice")))) {
    return(NULL)
  }
  mine <- rows[rows$arm == arm, , drop = FALSE]
  stays <- stays_as_asked(x, mine)
  where <- function(word) paste(unique(place_names(mine[stays == word, , drop = FALSE])), collapse = ", ")
  failed <- arm %in% attr(x, "failed")$arm
  said <- c(
    if (any(stays == "no")) paste("does not in", where("no")),
    if (any(stays == "unclear")) paste("cannot be told in", where("unclear")),
    if (all(stays == "yes")) if (failed) "keeps it, but failed" else "keeps it too"
  )
  more <- mine$more_passes[stays == "unclear"]
  more <- more[is.finite(more)]
  paste0(
    arms_with_failures(arm, told, attr(x, "failed")), ": ", paste(said, collapse = "; "),
    if (length(more)) paste0(" (about ", max(more), " passes would tell)"), "."
  )
}

#' Floors as a table for people
#' @noRd
floors_shown <- function(x) {
  told <- labels_of(x)
  rows <- plain_table(x)
  one <- length(unique(rows$metric)) == 1
  out <- data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, told), arm = arm_names(rows$arm, told),
    mean = show_number(rows$value), `lies in` = ends_shown(rows$lower, rows$upper),
    floor = show_exact(rows$floor), stays = stay_words(rows$stays), check.names = FALSE
  )
  if (one) out$metric <- NULL
  if (attr(x, "next_pass")) {
    out[["next pass"]] <- ends_shown(rows$next_lower, rows$next_upper)
    out[["next stays"]] <- stay_words(rows$next_stays)
  }
  if (any(rows$failed > 0)) out$failed <- rows$failed
  out
}

ends_shown <- function(lower, upper) {
  ifelse(is.na(lower), "", paste(show_number(lower), "to", show_number(upper)))
}

stay_words <- function(stays) c(yes = "yes", no = "no", unclear = "cannot tell")[stays]

floors_footing <- function(x) {
  paste0(
    "All intervals hold together at ", show_share(attr(x, "confidence")),
    if (attr(x, "next_pass")) {
      paste(
        "; that of the next pass takes passes to vary as a normal distribution does, and odd ones that were not seen",
        "are not in it"
      )
    }, ". Preferred in this order: ",
    some_of(arm_names(attr(x, "order"), labels_of(x)), 8), "."
  )
}
