# How far an interval reaches: the one place where Student's t is asked.

#' So many standard errors to either side
#'
#' @param alpha What is left outside, both sides together; a one-sided bound at level a takes `2 * a`.
#' @param df Degrees of freedom. @return Numbers, as long as the longer of both.
#' @references Student (1908), Biometrika 6, 1-25.
#' @noRd
t_reach <- function(alpha, df) stats::qt(1 - alpha / 2, df)
