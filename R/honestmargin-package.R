#' @keywords internal
#' @useDynLib honestmargin, .registration = TRUE
#' @importFrom Rcpp evalCpp
"_PACKAGE"

# ggplot2's pronoun for the plotted table; ggplot2 itself is loaded only when drawing
utils::globalVariables(".data")
