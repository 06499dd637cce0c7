# Steps in words: one thing after another was changed and kept.

#' The rows of steps, numbered within their place and metric
#'
#' @param rows Verdicts weighed against the arm before (`against = "previous"`).
#' @return Its primary rows with `step` (1, 2, ...; `NA` for all steps together).
#' @noRd
step_rows <- function(rows) {
  rows <- plain_table(rows)
  rows <- rows[rows$role == "primary", , drop = FALSE]
  key <- cell_key(rows)
  rows$step <- stats::ave(seq_along(key), key, FUN = seq_along)
  # the last arm stands twice: after the one before it, and after the first
  rows$step[duplicated(paste(key, rows$arm, sep = "\r"))] <- NA
  rows
}

is_stepwise <- function(verdicts) is_steps(attr(verdicts, "how")$against)

# "stock -> XMP"
step_names <- function(rows, labels) {
  paste(arm_names(rows$baseline, labels), "->", arm_names(rows$arm, labels))
}

# "+5.6 % (+3.1 to +8.2 %), clear gain"
step_change <- function(rows) {
  change <- ifelse(rows$verdict %in% c("blocked", "does not hold") | is.na(rows$change), "", shown_change(rows))
  range <- ifelse(is.na(rows$lower) | rows$verdict == "blocked", "", paste0(" (", shown_interval(rows), ")"))
  paste0(change, range, ifelse(nzchar(change), ", ", ""), rows$verdict)
}

#' One sentence a place and metric
#' @param rows From `step_rows()`.
#' @noRd
step_sentences <- function(rows, labels) {
  key <- cell_key(rows)
  vapply(unname(split(rows, factor(key, unique(key)))), function(here) {
    each <- here[!is.na(here$step), , drop = FALSE]
    said <- paste0(step_names(each, labels), " ", step_change(each), collapse = "; ")
    paste0(step_place(here, rows, labels), said, ".", whole_climb(here, labels))
  }, "")
}

step_place <- function(here, rows, labels) {
  sole <- identical(unique(place_names(rows)), "main")
  label <- short_labels(here$metric[1], labels, rows$metric)
  paste0(if (!sole) paste0(place_names(here[1, ]), ", "), label, ": ")
}

# " All 3 steps: +11.1 % (...), clear gain."
whole_climb <- function(here, labels) {
  all <- here[is.na(here$step), , drop = FALSE]
  if (nrow(all)) paste0(" All ", sum(!is.na(here$step)), " steps: ", step_change(all), ".") else ""
}

#' What all steps brought together, in one text; where there is one step only, that
#' @noRd
climb_headline <- function(rows, labels) {
  if (length(unique(cell_key(rows))) == 1) step_sentences(rows, labels) else climb_ends(rows, labels)
}

# "All 3 steps, stock -> pinned: quay, fps: +8.7 % (...), clear gain; tower, fps: ..."
climb_ends <- function(rows, labels) {
  key <- cell_key(rows)
  cells <- unname(split(rows, factor(key, unique(key))))
  ends <- stack_rows(lapply(cells, function(here) here[nrow(here), , drop = FALSE]))
  said <- vapply(seq_along(cells), function(i) {
    paste0(step_place(cells[[i]], rows, labels), step_change(ends[i, , drop = FALSE]))
  }, "")
  steps <- max(vapply(cells, function(here) sum(!is.na(here$step)), 1L))
  about <- if (steps > 1) paste0("All ", steps, " steps, ") else ""
  n <- table(factor(ends$verdict, unique(ends$verdict)))
  paste0(
    about, unique(step_names(ends, labels))[1], ": ", if (length(said) <= 3) {
      paste(said, collapse = "; ")
    } else {
      paste0(list_words(paste(n, names(n))), " of ", length(said), " comparisons")
    }, "."
  )
}
