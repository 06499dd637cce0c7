# Verdicts as a person would say them line by line: arm, metric, from what to what, change, verdict.

#' @param rows Verdicts against one baseline. @return A list, one element a place: `place`, `about` (worth and noise of
#'   each metric), `table` (data frame of text).
#' @noRd
answers_shown <- function(rows, told) {
  place <- place_names(rows)
  lapply(split(rows, factor(place, unique(place))), function(here) {
    here <- here[order(match(here$arm, unique(rows$arm))), , drop = FALSE]
    list(place = place_names(here)[1], about = answer_about(here), table = answer_table(here, told))
  })
}

answer_table <- function(here, told) {
  first <- here[!duplicated(here$metric) & !is.na(here$baseline_value), , drop = FALSE]
  # the unit stands with the baseline's own number
  # none where the baseline never ran
  blank <- rep("", nrow(first))
  own <- data.frame(
    arm = first$baseline, metric = first$metric, value = number_words(first$baseline_value, first$unit),
    change = blank, interval = blank, verdict = rep("baseline", nrow(first))
  )
  hidden <- here$verdict == "blocked"
  arms <- data.frame(
    arm = here$arm, metric = here$metric,
    value = ifelse(is.na(here$arm_value), "", ifelse(
      is.na(here$baseline_value), number_words(here$arm_value, here$unit),
      paste(four_digits(here$baseline_value), "->", four_digits(here$arm_value))
    )),
    change = ifelse(hidden, "", shown_change(here)), interval = ifelse(hidden, "", shown_interval(here)),
    verdict = here$verdict
  )
  out <- rbind(own, arms)
  out$arm <- ifelse(duplicated(out$arm), "", arm_names(out$arm, told))
  out
}

four_digits <- function(value) ifelse(value %in% 0, "0", show_number(value, 4))

# one unit may be that of all
with_unit_each <- function(text, unit) {
  ifelse(rep_len(is.na(unit) | unit == "", length(text)), text, paste(text, unit))
}

number_words <- function(value, unit) {
  ifelse(is.na(value), "", with_unit_each(four_digits(value), unit))
}

# "fps_avg: worth 2 %, passes differ by 0.5 to 1.0 %"
answer_about <- function(here) {
  vapply(split(here, factor(here$metric, unique(here$metric))), function(rows) {
    # how often passes fail is no noise of theirs
    counted <- rows$metric[1] %in% names(known_outcome_metrics())
    noise <- if (!counted) rows$noise[is.finite(rows$noise)]
    suffix <- show_suffix(rows$scale[1], empty_na(rows$unit[1]))
    unit <- plural_of(empty_to(rows$unit_of_replication[!is.na(rows$unit_of_replication)], "pass")[1])
    span <- if (length(noise)) unique(show_number(range(noise), 2))
    paste0(
      rows$metric[1], ": ",
      if (is.na(rows$worth[1])) "no worth named" else paste0("worth ", show_exact(signif(rows$worth[1], 3)), suffix),
      if (length(noise)) paste0(", ", unit, " differ by ", paste(span, collapse = " to "), suffix)
    )
  }, "", USE.NAMES = FALSE)
}

#' The words of the verdicts that stand there, each once
#' @noRd
verdicts_explained <- function(rows) {
  words <- intersect(names(plain_answers), rows$verdict)
  said <- setdiff(words, c("does not hold", "moved"))
  paste0(
    paste0(said, ": ", plain_answers[said], collapse = ". ", recycle0 = TRUE), if (length(said)) ".",
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
