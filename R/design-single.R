# One reading of an arm: its noise was not measured, and must come from elsewhere.

register("design", "single", rank = 30, recognise = function(rows, arm, baseline, one_way) {
  n <- c(sum(rows$arm == arm), sum(rows$arm == baseline))
  if (min(n) == 1) {
    why <- if (max(n) == 1) new_code("one_pass_each") else new_code("one_pass", arm = c(arm, baseline)[n == 1][1])
    new_design("single", why = why)
  }
})

#' @export
estimate.honestmargin_design_single <- function(design, rows, arm, baseline, stored = NULL) {
  if (is.null(stored)) {
    return(NULL)
  }
  a <- rows$y[rows$arm == arm]
  b <- rows$y[rows$arm == baseline]
  at <- function(n) list(se = stored$sd * sqrt(sum(1 / n)), df = stored$df)
  c(
    list(
      estimate = mean(a) - mean(b), sd = stored$sd, mean_arm = mean(a), mean_baseline = mean(b),
      n_arm = length(a), n_baseline = length(b), units = min(length(a), length(b)),
      at_size = function(n) at(c(n, n))
    ), at(c(length(a), length(b)))
  )
}

#' @export
caveat.honestmargin_design_single <- function(design, stored = NULL) {
  if (!is.null(stored)) empty_to(stored$said, new_code("stored_noise", source = stored$source))
}
