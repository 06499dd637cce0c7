# A cell: the passes of one metric in one place, which is one workload, segment and context.

#' A cell of a study
#'
#' @param first A list: `workload`, `segment`, `context`, `metric`, `unit`, `better`, `scale`.
#' @param counted A list of columns, one element a counted pass: `arm`, `block`, `boot`, `order`, `value`, `seconds`,
#'   `y` (the value on the scale of analysis).
#' @param passes A list of columns, every pass: `arm`, `role`, `outcome`.
#' @param role `primary` or `exploratory`. @param family Primary comparisons in all; 1 of an exploratory cell.
#' @param ... What else is known of it: see `describe_cell()`.
#' @return An object of class `honestmargin_cell`, a list.
#' @noRd
new_cell <- function(first, counted, passes, role, family, ...) {
  stopifnot(
    first$better %in% c("higher", "lower"),
    role %in% c("primary", "exploratory"), family >= 1, length(counted$y) == length(counted$arm),
    length(passes$arm) >= length(counted$arm)
  )
  structure(
    list(first = first, counted = counted, passes = passes, role = role, family = family, ...),
    class = "honestmargin_cell"
  )
}
