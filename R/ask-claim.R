# The question about somebody else's pair of numbers: how quiet must their passes have been?

#' Break-even noise of published pairs of numbers
#'
#' A gap between two published figures says nothing by itself: it stands only if passes vary by less than this. The
#' larger the break-even noise, the safer the gap.
#'
#' @param from,to Numeric: the two figures of each claim, above 0.
#' @param ... Not used.
#' @param passes Passes behind each figure: one number, one per claim, or a list of two such vectors.
#' @param rounded Step to which the figures were rounded (each may be off by half of it), 0 for not at all.
#' @param confidence Over all claims together (Sidak).
#' @param spread Standard deviation of the passes behind each figure, where it was published too, in its unit: one
#'   number, one per claim, or a list of two such vectors; `NA` where it was not. It needs two passes on each side.
#' @param name What each claim is about, or `NULL`.
#' @return An answer (see [as.data.frame.honestmargin_answer()]), a data frame, one row per claim: `claim` (where they
#'   have names), `from`, `to`, `change` (percent), `passes_from`, `passes_to`, `rounded`,
#'   `break_even` (standard deviation of one pass, in percent, at which the gap would no longer stand; 0 where rounding
#'   alone may have made it), `spread_from`, `spread_to`, `lower`, `upper` (of the change, percent, rounding counted),
#'   `stands` (whether the interval leaves 0 out; these three `NA` without a spread), `confidence`, `together` (how many
#'   claims). For `break_even` the noise is taken as known exactly (normal quantile), which favours the claim; the
#'   interval is Welch's, of logarithms.
#' @section Errors: `honestmargin_error_input` for figures that are not above 0, passes that are no counts, a spread of
#'   one pass.
#' @references Welch (1947), Biometrika 34, 28-35; Cochran and Cox (1957), Experimental Designs, section 4.14 (few
#' passes
#'   against many).
#' @export
#' @examples
#' weigh_claims(71.2, 73.0, passes = 3, rounded = 0.1)
#' weigh_claims(71.2, 73.0, passes = 3, rounded = 0.1, spread = list(0.5, 0.7))
weigh_claims <- function(from, to, ..., passes = 1, rounded = 0, confidence = 0.95, spread = NA, name = NULL) {
  assert_no_dots(...)
  checkmate::assert_number(confidence, lower = 0.5, upper = 0.9999)
  rows <- claim_numbers(from, to, passes, rounded, confidence, spread)
  if (!is.null(name)) rows <- cbind(claim = name, rows)
  new_answer("claim", rows, NULL)
}

claim_words <- function(x) {
  rows <- plain_table(x)
  c(
    if (nrow(rows) == 1) claim_sentences(rows, rows[["claim"]]),
    usual_noise_words(usual_noise(known_claims(rows)))
  )
}

# claims that are named by a metric are held against that metric
known_claims <- function(rows) {
  named <- intersect(rows[["claim"]], names(known_metrics()))
  if (length(named)) named
}

claim_tables <- function(x) {
  rows <- plain_table(x)
  shown <- claims_shown(rows, rows[["claim"]])
  if (nrow(rows) > 1) list(shown_table(shown, setdiff(names(shown), "claim")))
}

claim_footing <- function(x) {
  if (nrow(x) > 1) {
    paste0(
      "stands below: the gap stands only if one pass varied by less than this (standard deviation), at ",
      show_share(x$confidence[1]), " over all ", nrow(x), " claims together.",
      if (any(!is.na(x$stands))) " interval: by the spread that was published, at the same."
    )
  }
}

register("question", "claim",
  rank = 20, title = "A published gap", about = "how quiet passes must have been for a published gap to stand",
  answer = function(x, ...) {
    abort_needed("two published figures are needed", todo = "honestmargin claim 71.2 73.0 (in R: weigh_claims())")
  },
  elsewhere = TRUE, lines = claim_words, tables = claim_tables, footing = claim_footing,
  line = function(x) claim_words(x)[1], key = "claims"
)
