# Loops of runs as curves, the arms side by side.

#' Figure of loops
#'
#' @param x Readings with loops, what [weigh()] or [run_loops()] returned.
#' @inheritParams plot_change
#' @return A ggplot2 object, a panel per workload, metric and arm on one scale: a line for each run through its loops;
#'   dotted where it falls.
#' @section Errors: As [run_loops()]; `honestmargin_error_needed` for more panels than fit.
#' @export
#' @examples
#' rows <- data.frame(
#'   device = rep(c("one", "other"), each = 8), loop = rep(1:8, 2),
#'   score = c(60, 61, 60, 61, 60, 60, 61, 60, 62, 61, 62, 55, 54, 54, 55, 54)
#' )
#' plot_loops(read_readings(rows, baseline = "one", better = c(score = "higher")))
plot_loops <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "loops", workload, metric, context, ...)
  labels <- labels_of(data)
  unit <- ifelse(data$unit == "" | data$unit == data$metric, "", paste0(", ", data$unit))
  assert_panels(factor(paste(place_names(data), data$metric, data$arm)))
  data$panel <- panel_titles(data, unit)
  data$side <- factor(arm_names(data$arm, labels), unique(arm_names(data$arm, labels)))
  runs <- attr(data, "runs")
  runs <- runs[!is.na(runs$from), , drop = FALSE]
  key <- function(rows) paste(rows$workload, rows$context, rows$metric, rows$arm, rows$pass)
  runs[c("panel", "side")] <- data[match(key(runs), key(data)), c("panel", "side")]
  runs <- runs[!is.na(runs$panel), , drop = FALSE]
  ggplot2::ggplot(data, ggplot2::aes(x = .data$place, y = .data$value)) +
    (if (nrow(runs)) {
      ggplot2::geom_vline(
        ggplot2::aes(xintercept = .data$from - 0.5),
        data = runs, colour = ink("loss"), linetype = "22", linewidth = 0.7
      )
    }) +
    ggplot2::geom_line(ggplot2::aes(group = .data$pass), colour = ink("link"), linewidth = 0.5) +
    ggplot2::geom_point(colour = ink("pass"), size = 1.9) +
    # the devices of one row share its scale, so that they can be compared
    ggplot2::facet_grid(ggplot2::vars(.data$panel), ggplot2::vars(.data$side), scales = "free_y") +
    ggplot2::scale_x_continuous(breaks = function(range) unique(pmax(1, round(pretty(range, 6))))) +
    ggplot2::labs(
      title = paste(utils::head(strwrap(gsub(" %", "\u00a0%", attr(data, "said")[1]), 90), 2), collapse = "\n"),
      subtitle = paste0("Line: the loops of one run.", if (nrow(runs)) " Dashed: lower from here on."),
      x = "loop of the run", y = NULL
    ) +
    figure_theme()
}

register("picture", "loops", draw = plot_loops)
