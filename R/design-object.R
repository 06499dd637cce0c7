# A design: what the passes of one contrast form, and what follows from that. Only
# the passes are looked at, never the values, so the choice of method cannot follow
# the result. Each kind stands in a file of its own and registers how it is recognised.

#' @param kind One of the registered designs.
#' @param unit What is replicated: `pass`, `block`, `boot`, `stint`; `NA` where nothing is.
#' @param by For each row the block or group that it belongs to.
#' @param why Code of what stands in the way of an answer, or of what must be told beside it.
#' @param ... Further fields.
#' @noRd
new_design <- function(kind, unit = "pass", by = NULL, why = NULL, ...) {
  structure(
    list(kind = kind, unit = unit, by = by, why = why, ...),
    class = c(paste0("honestmargin_design_", kind), "honestmargin_design")
  )
}

#' One arm against the baseline: an estimate with its standard error
#'
#' On the scale of analysis: logarithms for percent, plain differences otherwise.
#' @param design From `recognise_design()`. @param rows Counted passes of the two arms with `y`, the value on
#'   the scale of analysis.
#' @param stored `NULL`, or a list `sd`, `df`: noise known from elsewhere.
#' @param alpha Two-sided level of the interval, for designs whose degrees of freedom depend on it.
#' @return `NULL` where this design has no basis for one; else from `new_estimate()`.
#' @noRd
estimate <- function(design, rows, arm, baseline, stored = NULL, alpha = 0.05) UseMethod("estimate")

#' What a comparison gives before it is judged: numbers only, so that many comparisons are judged at once
#'
#' @param ... Vectors, one element a comparison: `estimate`, `se`, `df`, `sd` (of one unit within an arm), `mean_arm`,
#'   `mean_baseline`, `n_arm`, `n_baseline` (passes that entered), `units` (per arm), and what another number `n` of
#'   units per arm would give: the variance `fixed + each / n` with `df_fixed + df_each * n` degrees of freedom (fewer
#'   where `cautious` and below five units, see `estimate_welch()`). Where they apply: `own`, `total`, `squares`, `all`,
#'   `contrasts` (from `helping_spread()`); `least_se` and `most_df` at any number; `have`, how many units go on
#'   counting; `wanted`, the evidence asked for where looks are allowed, with `p`, and `most`, how many units there may
#'   come to be; `swing` (the range of the differences in blocks, else that within an arm); `events` (of both arms) and
#'   `size` (of the smaller: passes, or minutes), where events are counted;
#'   `amount` in a pass that is touched at all and `untouched` passes, where an arm never was; `extra`, added to the
#'   half-width of the interval, and `moved`, of the estimate, where a fixed order may have done so; `prior_df` and
#'   `prior` (a variance) of the other cells, with `alone_se` and `alone_df` without them.
#' @return An object of class `honestmargin_estimate`, a list of columns.
#' @noRd
new_estimate <- function(...) {
  given <- list(...)
  stopifnot(
    c("estimate", "se", "units") %in% names(given), given$se >= 0 | is.na(given$se),
    given$df > 0 | is.na(given$df), given$units >= 1 | is.na(given$units)
  )
  structure(
    c(given, estimate_defaults[setdiff(names(estimate_defaults), names(given))]),
    class = "honestmargin_estimate"
  )
}

estimate_defaults <- list(
  fixed = 0, df_fixed = 0, df_each = 0, cautious = FALSE, own = NA_real_, total = NA_real_, squares = NA_real_,
  all = NA_real_, contrasts = 0, least_se = 0, most_df = Inf, have = 0, wanted = NA_real_, p = NA_real_,
  most = NA_real_, swing = NA_real_, events = NA_real_, size = NA_real_, amount = NA_real_, untouched = NA_real_,
  extra = 0, moved = 0, prior_df = 0, prior = NA_real_, alone_se = NA_real_, alone_df = NA_real_
)

#' What must be told beside a verdict of this design, as a code; `NULL` for nothing
#' @noRd
caveat <- function(design, stored = NULL) UseMethod("caveat")

#' @export
estimate.honestmargin_design <- function(design, rows, arm, baseline, stored = NULL, alpha = 0.05) NULL
#' @export
caveat.honestmargin_design <- function(design, stored = NULL) NULL

#' Recognise the design of one contrast
#'
#' @param rows Counted passes of one cell, both arms: `arm`, `block`, `boot`, `order`.
#' @param arm,baseline The two arms.
#' @param one_way `TRUE` where what time did is already taken out by an anchor, so
#'   that one stint per arm is as good as a session.
#' @return The first of the registered designs that fits.
#' @noRd
recognise_design <- function(rows, arm, baseline, one_way = FALSE) {
  for (kind in registered("design")) {
    found <- kind$recognise(rows, arm, baseline, one_way)
    if (!is.null(found)) {
      return(found)
    }
  }
}

# blocks or boots that hold passes of both arms
both_present <- function(key, arm) {
  first <- arm == arm[1]
  intersect(key[first], key[!first])
}

belong_to_one_arm <- function(key, arm) !length(both_present(key, arm))
