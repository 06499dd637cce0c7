# Steps that climb or fall: each arm a landing, each change the rise to it.

#' Figure of steps
#'
#' @param x A study, readings, what [weigh()] or [weigh_steps()] returned.
#' @inheritParams plot_change
#' @return A ggplot2 object, a panel per workload and metric: the mean of each arm as a landing, its passes as points,
#'   and at each rise what the step brought, with its verdict in its colour.
#' @section Errors: As [weigh_steps()]; `honestmargin_error_needed` for more panels than fit.
#' @export
#' @examples
#' passes <- data.frame(
#'   arm = rep(c("stock", "fast memory", "pinned"), 3), block = rep(1:3, each = 3),
#'   value = c(100, 104, 109, 101, 105, 109, 99, 104, 108)
#' )
#' plot_steps(passes, worth = 1)
plot_steps <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "steps", workload, metric, context, ...)
  labels <- labels_of(data)
  data$panel <- assert_panels(panel_titles(
    data, ifelse(is.na(data$unit) | data$unit == "" | data$unit == data$metric, "", paste0(", ", data$unit))
  ))
  level <- data[data$kind == "level" & is.finite(data$value), ]
  level$family <- verdict_family(level$verdict)
  rise <- level[level$step > 0, ]
  before <- level[match(paste(rise$panel, rise$step - 1), paste(level$panel, level$step)), ]
  rise$from <- before$value
  rise <- rise[!is.na(rise$from), ]
  arms <- level[!duplicated(level$step), ]
  arms <- arms[order(arms$step), ]
  ggplot2::ggplot(level, ggplot2::aes(x = .data$step, y = .data$value)) +
    ggplot2::geom_segment(
      ggplot2::aes(x = .data$step - 0.5, xend = .data$step - 0.5, y = .data$from, yend = .data$value,
        colour = .data$family), data = rise, linewidth = 1.1
    ) +
    ggplot2::geom_segment(
      ggplot2::aes(x = .data$step - 0.5, xend = .data$step + 0.5, yend = .data$value),
      colour = ink("text"), linewidth = 0.9
    ) +
    ggplot2::geom_point(
      data = data[data$kind == "pass", ], colour = ink("pass"), size = 1.7, shape = 16,
      position = ggplot2::position_jitter(width = 0.12, height = 0, seed = 1)
    ) +
    ggplot2::geom_label(
      ggplot2::aes(x = .data$step - 0.5, y = pmax(.data$from, .data$value), label = .data$words, colour = .data$family),
      data = rise, vjust = -0.2, size = 3.1, lineheight = 0.9, fill = paste0(ink("ground"), "D0"), label.size = 0
    ) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free_y", ncol = panel_columns(level)) +
    family_scales()[[1]] +
    ggplot2::scale_x_continuous(breaks = arms$step, labels = arm_names(arms$arm, labels)) +
    ggplot2::scale_y_continuous(expand = ggplot2::expansion(mult = c(0.08, 0.2))) +
    ggplot2::labs(
      title = paste(utils::head(strwrap(gsub(" %", "\u00a0%", attr(data, "said")), 90), 2), collapse = "\n"),
      x = NULL, y = NULL,
      subtitle = "Landing: mean of an arm. Rise: what the step brought after the one before it. Points: passes."
    ) +
    figure_theme()
}

register("picture", "steps", draw = plot_steps)
