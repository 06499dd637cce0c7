# Verdicts as a person would say them line by line: arm, metric, from what to what, change, verdict.

#' The answers as one table, a group for each place and metric
#'
#' @param rows Verdicts against one baseline.
#' @return A list, one element a group: `title`, `about` (worth and noise), `blocked` (why all of it cannot be answered,
#'   or `NULL`), `table` (data frame of text: `arm`, `value`, `change`, `interval`, `verdict`, `more`), `baseline`.
#' @noRd
answers_shown <- function(rows, labels) {
  sole <- identical(unique(place_names(rows)), "main")
  key <- cell_key(rows)
  lapply(unname(split(rows, factor(key, unique(key)))), function(here) {
    here <- here[order(match(here$arm, unique(rows$arm))), , drop = FALSE]
    label <- short_labels(here$metric[1], labels, rows$metric)
    named <- if (label != here$metric[1]) here$metric[1] else empty_na(here$unit[1])
    list(
      title = paste0(
        if (!sole) paste0(place_names(here)[1], ", "), label, if (nzchar(named)) paste0(" (", named, ")")
      ),
      about = answer_about(here), blocked = blocked_together(here), table = answer_table(here, labels),
      baseline = unique(here$baseline)
    )
  })
}

# "every arm is limited to 120 fps", where that is all there is to say of them
blocked_together <- function(here) {
  if (!all(here$verdict == "blocked")) {
    return(NULL)
  }
  rate <- unlist(lapply(seq_len(nrow(here)), function(i) code_of(here$codes[[i]], "both_held")$fps))
  if (all(has_code(here$codes, "both_held")) && length(unique(show_number(rate))) == 1) {
    return(paste("every arm is limited to", show_number(rate[1]), "fps"))
  }
  why <- unique(vapply(seq_len(nrow(here)), function(i) main_reason(here[i, , drop = FALSE]), ""))
  if (length(why) == 1 && nzchar(why)) why
}

#' @param name What each row is called.
#' @noRd
answer_table <- function(here, labels, name = arm_names(here$arm, labels)) {
  hidden <- here$verdict == "blocked"
  failed <- vapply(here$arm, function(arm) arm %in% names(failure_marks(here[here$arm == arm, , drop = FALSE])), NA)
  interval <- ifelse(is.na(here$change), "", ifelse(is.na(here$lower), "not known", shown_interval(here)))
  data.frame(
    arm = paste0(name, ifelse(failed, " *", "")),
    value = ifelse(is.na(here$arm_value), "", ifelse(
      is.na(here$baseline_value), four_digits(here$arm_value),
      paste(four_digits(here$baseline_value), "->", four_digits(here$arm_value))
    )),
    change = ifelse(hidden, "", shown_change(here)), interval = ifelse(hidden, "", interval), verdict = here$verdict,
    more = more_shown(here)
  )
}

# how many passes would settle what is unclear
more_shown <- function(rows) {
  ifelse(rows$verdict != "unclear" | is.na(rows$more_passes), "", format_count(rows$more_passes))
}

format_count <- function(n) ifelse(is.finite(n), show_exact(n), "no end")

four_digits <- function(value) ifelse(value %in% 0, "0", show_number(value, 4))

# one unit may be that of all
with_unit_each <- function(text, unit) {
  ifelse(rep_len(is.na(unit) | unit == "", length(text)), text, paste(text, unit))
}

number_words <- function(value, unit) {
  ifelse(is.na(value), "", with_unit_each(four_digits(value), unit))
}

# "worth 2 %, noise 0.5 to 1.0 %" of one metric in one place
answer_about <- function(rows) {
  # how often passes fail is no noise of theirs
  counted <- rows$metric[1] %in% names(known_outcome_metrics())
  noise <- if (!counted) rows$noise[is.finite(rows$noise)]
  suffix <- show_suffix(rows$scale[1], empty_na(rows$unit[1]))
  span <- if (length(noise)) unique(show_number(range(noise), 2))
  paste0(
    if (is.na(rows$worth[1])) "no worth named" else paste("worth", worth_words(rows[1, ])),
    if (length(noise)) paste0(", noise ", paste(span, collapse = " to "), suffix)
  )
}

worth_words <- function(row) paste0(show_exact(signif(row$worth, 3)), show_suffix(row$scale, empty_na(row$unit)))

# in the order in which they are looked at
verdict_legend <- c(
  `does not hold` = "every counted pass failed", blocked = "these passes cannot answer", `no basis` = "noise unknown",
  `clear gain` = "interval wholly beyond the worth", `clear loss` = "interval wholly beyond the worth",
  negligible = "interval within the worth", gain = "interval excludes 0", loss = "interval excludes 0",
  unclear = "the rest"
)

#' The words of the verdicts that stand there, each once
#' @noRd
verdicts_explained <- function(rows) {
  said <- intersect(names(verdict_legend), rows$verdict)
  paste0(
    if (length(said) > 1) "The first that fits. ",
    paste0(said, ": ", verdict_legend[said], collapse = ". ", recycle0 = TRUE), if (length(said)) ".",
    if (all(is.na(rows$worth)) && any(rows$verdict %in% c("gain", "loss", "unclear"))) {
      " No worth was named, so whether it matters was not judged."
    }
  )
}

#' What the answers rest on: the baseline, the family, how it was run, and what the words mean
#' @noRd
answers_rest_on <- function(verdicts) {
  paste0(
    "Baseline ", baseline_words(verdicts), ". ", family_words(verdicts), " ",
    how_run_words(what_was_weighed(verdicts)), " ",
    verdicts_explained(verdicts[verdicts$role == "primary", , drop = FALSE])
  )
}

#' How a study was run, in one line
#' @noRd
how_run_words <- function(x) {
  passes <- passes_of(x)
  counted <- passes[passes$role == "counted", , drop = FALSE]
  blocks <- length(unique(stats::na.omit(counted$block)))
  paste0(
    count_of(nrow(counted), "pass", "passes"), if (blocks > 1) paste0(" in ", blocks, " blocks"),
    if (is_study(x) && !is.null(x$sealed)) ", planned before the first of them", "."
  )
}
