# Many comparisons at once.

#' Sidak: the level of one comparison in a family of `size`
#' @noRd
family_alpha <- function(confidence, size) 1 - confidence^(1 / size)

#' @noRd
family_p <- function(p, size) -expm1(size * log1p(-p))
