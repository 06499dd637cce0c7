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
#' @return `NULL` where this design has no basis for one; else a list: `estimate`, `se`, `df`, `sd` (of one
#'   unit within an arm), `mean_arm`, `mean_baseline`, `n_arm`, `n_baseline` (passes that
#'   entered), `units` (per arm), and `at_size(n)`, which gives `se` and `df` of the same design with `n`
#'   units per arm; `have`, where more units are added to those at hand and not weighed alone. Where the degrees of
#'   freedom depend on the level, `at_level(alpha)` gives the same list for another.
#' @noRd
estimate <- function(design, rows, arm, baseline, stored = NULL) UseMethod("estimate")

#' What must be told beside a verdict of this design, as a code; `NULL` for nothing
#' @noRd
caveat <- function(design, stored = NULL) UseMethod("caveat")

#' @export
estimate.honestmargin_design <- function(design, rows, arm, baseline, stored = NULL) NULL
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
