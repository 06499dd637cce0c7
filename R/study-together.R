# Several claims at once, of which all must hold: as fast, and cooler, and holds.

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
#' @return An object of class `honestmargin_together`, a data frame, one row per workload, context, arm and claim:
#'   `workload`, `context`, `metric`, `claim`, `arm`, `baseline`, `change`, `bound` (one-sided: at worst so much, never
#'   flipped), `worth`, `holds` (`NA` where it cannot be told), `why`.
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
  how <- how_to_weigh(x, plan, readings, asked, list(looks = is_study(x) && looked_at(x)))
  lacking <- setdiff(names(claims)[claims == "as_good"], names(how$worth))
  if (length(lacking)) {
    abort_needed(paste0("as good in ", lacking[1], " within what?"), todo = "name its worth: --worth METRIC=W")
  }
  # each claim alone and one-sided: a two-sided interval at twice the level. Claims of one arm share no level, but arms
  # do: with five of them 15 % of studies would name one falsely
  arms <- max(1, length(setdiff(how$arms, how$baseline)))
  level <- family_alpha(how$confidence, arms)
  overall <- how$confidence
  how$confidence <- 1 - 2 * level
  how$primary <- character()
  how$listed <- union(how$listed, names(claims))
  passes <- if (is_study(x)) x$passes else passes_of(readings)
  rows <- plain_table(weigh_all(rescale_nonpositive(readings), passes, how)$verdicts)
  rows <- rows[rows$metric %in% names(claims) & is.na(rows$segment), , drop = FALSE]
  rows <- rows[!cannot_be_fewer(rows, claims), , drop = FALSE]
  structure(claim_rows(rows, claims),
    class = c("honestmargin_together", "data.frame"), labels = plan_labels(plan), confidence = overall, arms = arms,
    failed = failed_arms(x)
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
