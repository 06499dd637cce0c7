# What `plot()` and `autoplot()` of verdicts draw.

#' @rdname plot_change
#' @param y Not used.
#' @export
plot.honestmargin_verdicts <- function(x, y, ...) {
  print(plot_change(x, ...))
  invisible(x)
}

#' @rdname plot_change
#' @param object As `x`.
#' @exportS3Method ggplot2::autoplot
autoplot.honestmargin_verdicts <- function(object, ...) plot_change(object, ...)
