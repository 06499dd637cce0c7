# One reading of an arm: its noise was not measured, and must come from elsewhere.

register("design", "single", rank = 30, recognise = function(rows, arm, baseline, one_way) {
  n <- c(sum(rows$arm == arm), sum(rows$arm == baseline))
  if (min(n) == 1) {
    why <- if (max(n) == 1) new_code("one_pass_each") else new_code("one_pass", arm = c(arm, baseline)[n == 1][1])
    new_design("single", why = why)
  }
})

#' @export
estimate.honestmargin_design_single <- function(design, rows, arm, baseline, stored = NULL, alpha = 0.05) {
  if (is.null(stored)) {
    return(NULL)
  }
  a <- rows$y[rows$arm == arm]
  b <- rows$y[rows$arm == baseline]
  new_estimate(
    estimate = mean(a) - mean(b), se = stored$sd * sqrt(1 / length(a) + 1 / length(b)), df = stored$df,
    sd = stored$sd, mean_arm = mean(a), mean_baseline = mean(b), n_arm = length(a), n_baseline = length(b),
    units = min(length(a), length(b)), each = 2 * stored$sd^2, df_fixed = stored$df
  )
}

#' @export
caveat.honestmargin_design_single <- function(design, stored = NULL) {
  if (!is.null(stored)) empty_to(stored$said, new_code("stored_noise", source = stored$source))
}
