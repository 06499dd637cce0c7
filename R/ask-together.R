# The question: do several claims hold at once, as fast, and cooler, and holds?

claim_kinds <- c("as_good", "better")

#' Do several claims hold together?
#'
#' Each claim is a one-sided test at the whole level; only where all of them hold is the claim as a whole shown, so
#' none has to be adjusted for the others (intersection-union). `as_good`: not worse by the worth or more. `better`:
#' better at all.
#' @param x A study or readings.
#' @param claims Named character: for each metric (outcomes too: `failed`) `"as_good"` or `"better"`.
#' @param ... Not used.
#' @param baseline,worth,confidence As in [weigh()].
#' @return An answer ([ask_study()]), a data frame, one row per workload, context, arm and claim:
#'   `workload`, `context`, `metric`, `claim`, `arm`, `baseline`, `change`, `bound` (one-sided: at worst so much, never
#'   flipped), `worth`, `holds` (`NA` where it is not known), `why`.
#' @section Errors: `honestmargin_error_input` for an unknown metric or claim; `honestmargin_error_needed` where
#'   `as_good` is asked of a metric without a worth.
#' @references Berger (1982), Technometrics 24, 295-300 (intersection-union tests).
#' @export
#' @examples
#' weigh_together(read_study(demo_study()), c(fps_avg = "as_good", low1_quantile = "as_good"))
weigh_together <- function(x, claims, ..., baseline = NULL, worth = NULL, confidence = NULL) {
  assert_no_dots(...)
  checkmate::assert_character(claims, names = "unique", any.missing = FALSE, min.len = 1)
  unknown <- setdiff(claims, claim_kinds)
  if (length(unknown)) {
    abort_input(paste0("unknown claim '", unknown[1], "'"), todo = did_you_mean(unknown[1], claim_kinds))
  }
  readings <- readings_of(x)
  assert_metrics(names(claims), readings, "claims")
  plan <- if (is_study(x)) x$plan
  asked <- list(baseline = baseline, worth = worth, confidence = confidence)
  spec <- contrast_spec(x, plan, readings, asked, list(looks = is_study(x) && looked_at(x)))
  lacking <- setdiff(names(claims)[claims == "as_good"], names(spec$worth))
  if (length(lacking)) {
    abort_needed(paste0("name the worth of ", lacking[1]), todo = paste0("--worth ", lacking[1], "=2"))
  }
  # each claim alone and one-sided: a two-sided interval at twice the level. Claims of one arm share no level, but arms
  # do: with five of them 15 % of studies would name one falsely
  arms <- max(1, length(setdiff(spec$arms, spec$baseline)))
  level <- family_alpha(spec$confidence, arms)
  overall <- spec$confidence
  spec$confidence <- 1 - 2 * level
  spec$primary <- character()
  spec$listed <- union(spec$listed, names(claims))
  passes <- if (is_study(x)) x$passes else passes_of(readings)
  rows <- plain_table(weigh_all(rescale_nonpositive(readings), passes, spec)$verdicts)
  rows <- rows[rows$metric %in% names(claims) & is.na(rows$segment), , drop = FALSE]
  rows <- rows[!cannot_be_fewer(rows, claims), , drop = FALSE]
  new_answer("together", claim_rows(rows, claims), if (is_study(x)) x else readings,
    confidence = overall, arms = arms, failed = failed_arms(x)
  )
}

# fewer failures can be asked for where the baseline failed; elsewhere that the arm has none either is all there can be
cannot_be_fewer <- function(rows, claims) {
  outcome <- rows$metric %in% names(known_outcome_metrics()) & claims[rows$metric] == "better"
  none <- outcome & rows$baseline_value %in% 0 & rows$arm_value %in% 0
  # of an arm that cannot be better anywhere the claim stands, and is not shown
  could <- rows$arm[outcome & !none]
  none & rows$arm %in% could
}

claim_rows <- function(rows, claims) {
  claim <- unname(claims[rows$metric])
  falls <- rows$better == "lower"
  bound <- ifelse(falls, rows$upper, rows$lower)
  # how much worse it may be, the worse the larger
  worse <- ifelse(falls, bound, -bound)
  known <- is.finite(bound) & !rows$verdict %in% c("blocked", "no basis", "does not hold")
  holds <- ifelse(claim == "better", worse < 0, worse < rows$worth)
  holds[!known] <- ifelse(rows$verdict[!known] == "does not hold", FALSE, NA)
  out <- rows[c("workload", "context", "metric", "unit", "scale", "arm", "baseline", "change", "worth")]
  out$claim <- claim
  out$bound <- bound
  out$holds <- holds
  out$why <- ifelse(known, "", format(new_codes(lapply(unclass(rows$codes), utils::head, 1))))
  out <- out[order(match(out$workload, unique(rows$workload)), match(out$arm, unique(rows$arm))), , drop = FALSE]
  rownames(out) <- NULL
  out
}

#' @param x From `weigh_together()`.
#' @return Character vector, one element an arm.
#' @noRd
together_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  vapply(split(rows, factor(rows$arm, unique(rows$arm))), function(mine) {
    claimed <- mine[!duplicated(mine$metric), , drop = FALSE]
    said <- paste(ifelse(claimed$claim == "better", "better", "as good"), "in", metric_labels(claimed$metric, labels))
    failing <- mine[!mine$holds %in% TRUE, , drop = FALSE]
    paste0(
      arms_with_failures(mine$arm[1], labels, attr(x, "failed")),
      " against ", arm_names(mine$baseline[1], labels), ": ",
        list_words(said),
      if (nrow(failing)) {
        paste0(": not shown; ", paste(vapply(each_row(failing), failing_claim, "", labels = labels), collapse = "; "))
      } else {
        paste0(": shown, in ", list_words(unique(place_names(mine))))
      }, "."
    )
  }, "", USE.NAMES = FALSE)
}

failing_claim <- function(row, labels) {
  what <- paste0(place_names(row), ", ", metric_labels(row$metric, labels))
  if (is.na(row$holds)) {
    return(paste0(what, " is not known", if (nzchar(row$why)) paste0(" (", row$why, ")")))
  }
  if (!is.finite(row$bound)) {
    return(paste(what, "does not hold"))
  }
  worst <- show_change(row$bound, row$scale, row$unit)
  paste0(what, " may be as far as ", worst, if (row$claim == "as_good") {
    paste0(" (worth ", sub("^[+]", "", show_change(row$worth, row$scale, row$unit)), ")")
  })
}

together_footing <- function(x) {
  paste0(
    "One-sided, at ", show_share(attr(x, "confidence")), if (attr(x, "arms") > 1) " over all arms",
    "; all claims of an arm must hold together, so none is adjusted for the others."
  )
}

# arms of which every claim is shown
arms_of_claims <- function(x) {
  shown <- tapply(x$holds %in% TRUE, factor(x$arm, unique(x$arm)), all)
  arm_names(names(shown)[shown], labels_of(x))
}

#' `fps_avg=as_good,failed=better`
#' @noRd
claims_in_words <- function(text) {
  parts <- strsplit(trimws(strsplit(text, ",", fixed = TRUE)[[1]]), "=", fixed = TRUE)
  if (any(lengths(parts) != 2)) {
    abort_usage(paste0("--claims ", text, ": expected METRIC=CLAIM"), todo = "as_good or better, after each metric")
  }
  stats::setNames(vapply(parts, `[`, "", 2), vapply(parts, `[`, "", 1))
}

register("question", "together",
  rank = 2, title = "Do all claims hold?", about = "do several claims hold at once: as fast, and cooler, and holds?",
  answer = weigh_together, takes = c("baseline", "worth", "confidence"),
  needs = "--claims METRIC=as_good,METRIC=better",
  own = list(claims = list(
    meta = "M=C,M=C", help = "for each metric as_good (within its worth) or better", read = claims_in_words
  )),
  lines = together_words,
  line = function(x) paste("all hold for", empty_to(list_words(arms_of_claims(x)), "no arm")),
  footing = together_footing
)
