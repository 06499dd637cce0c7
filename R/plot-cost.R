# Arms by what they bring and what they cost.

#' Figure of value against cost
#'
#' @param x A study or readings.
#' @param workload,metric,context Which to show; `metric` is the value that is wanted (`NULL`: the first primary one).
#' @param cost A metric, or an attribute of the arms.
#' @param ... Passed to [weigh_cost()].
#' @return A ggplot2 object, a panel per workload. Each arm stands where its means lie, with their intervals; those that
#'   nothing beats in both are joined and full, the others hollow.
#' @section Errors: As [weigh_cost()]; `honestmargin_error_needed` without `cost`.
#' @export
#' @examples
#' passes <- expand.grid(block = 1:4, arm = c("eco", "boost"))
#' passes$pass <- 1:8
#' score <- c(100, 101, 99, 100, 104, 105, 103, 104)
#' power <- c(50, 51, 50, 49, 70, 71, 70, 69)
#' table <- rbind(
#'   data.frame(passes, metric = "score", value = score, unit = "points", better = "higher"),
#'   data.frame(passes, metric = "power", value = power, unit = "W", better = "lower")
#' )
#' plot_cost(table, metric = "score", cost = "power", baseline = "eco")
plot_cost <- function(x, workload = NULL, metric = NULL, context = NULL, cost = NULL, ...) {
  data <- figure_data(x, "cost", workload, metric, context, cost = cost, ...)
  labels <- labels_of(data)
  place <- place_names(data[c("workload", "context")])
  data$panel <- assert_panels(factor(place, unique(place)))
  data$name <- arm_names(data$arm, labels)
  data$family <- ifelse(data$on, "gain", "none")
  columns <- if (nlevels(data$panel) > 2) 2 else 1
  data[c("hjust", "vjust")] <- named_corners(data, 0.009 * columns)
  edge <- data[data$on, , drop = FALSE]
  edge <- edge[order(edge$panel, edge$cost), , drop = FALSE]
  ggplot2::ggplot(data, ggplot2::aes(x = .data$cost, y = .data$value, colour = .data$family)) +
    ggplot2::geom_path(data = edge, colour = ink("noise"), linewidth = 0.8) +
    ggplot2::geom_segment(
      data = data[!is.na(data$cost_lower), ],
      ggplot2::aes(x = .data$cost_lower, xend = .data$cost_upper, yend = .data$value), linewidth = 0.9
    ) +
    ggplot2::geom_segment(
      data = data[!is.na(data$value_lower), ],
      ggplot2::aes(y = .data$value_lower, yend = .data$value_upper, xend = .data$cost), linewidth = 0.9
    ) +
    ggplot2::geom_point(ggplot2::aes(shape = .data$family), size = 3, fill = ink("ground"), stroke = 1.2) +
    ggplot2::geom_label(
      ggplot2::aes(label = .data$name, hjust = .data$hjust, vjust = .data$vjust),
      size = 3.6, colour = ink("text"), fill = ggplot2::alpha(ink("ground"), 0.75), label.size = 0,
      label.padding = ggplot2::unit(0.08, "lines")
    ) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free", ncol = columns) +
    ggplot2::scale_colour_manual(values = c(gain = ink("gain"), none = ink("none"))) +
    ggplot2::scale_shape_manual(values = c(gain = 16, none = 21)) +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(mult = 0.15)) +
    ggplot2::scale_y_continuous(expand = ggplot2::expansion(mult = 0.15)) +
    ggplot2::labs(
      title = paste(metric_labels(attr(data, "metric"), labels), "against", metric_labels(attr(data, "cost"), labels)),
      subtitle = paste(strwrap(paste(
        "Full and joined: no other arm is surely better in one and not worse in the other. Hollow: beaten.",
        "Lines: 95 % intervals, each on its own."
      ), 105), collapse = "\n"),
      x = paste0(metric_labels(attr(data, "cost"), labels), unit_suffix(attr(data, "units")[2])),
      y = paste0(metric_labels(attr(data, "metric"), labels), unit_suffix(attr(data, "units")[1]))
    ) +
    figure_theme()
}

# panel by panel
named_corners <- function(data, width) {
  out <- data.frame(hjust = numeric(nrow(data)), vjust = numeric(nrow(data)))
  for (at in split(seq_len(nrow(data)), data$panel)) {
    out[at, ] <- corner_labels(data.frame(
      x = data$cost, x_lower = data$cost_lower, x_upper = data$cost_upper, y = data$value, y_lower = data$value_lower,
      y_upper = data$value_upper, name = data$name
    )[at, ], width)
  }
  out
}

register("picture", "cost", draw = plot_cost)
