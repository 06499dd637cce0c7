# Every workload and what holds over all of them, on one axis.

#' Figure of the change in each workload and over all of them
#'
#' @inheritParams plot_change
#' @return A ggplot2 object: a panel for each metric and arm. Points with lines: the change in each workload and its
#'   interval. Below them in bars: the interval for these workloads, for workloads like these, and where one more may
#'   lie.
#' @section Errors: `honestmargin_error_input` where nothing is measured in two workloads.
#' @export
#' @examples
#' plot_overall(read_study(demo_study()))
plot_overall <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "overall", workload, metric, context, ...)
  labels <- labels_of(data)
  panel <- paste0(
    arm_names(data$arm, labels), " against ", arm_names(data$baseline, labels),
    ifelse(is.na(data$context), "", paste0(", ", data$context)), "\n", data$label,
    ifelse(data$scale == "percent", ", change in %", paste0(", difference", unit_suffix(data$unit)))
  )
  data$panel <- assert_panels(factor(panel, unique(panel)))
  # all together below each
  data$row <- factor(data$place, rev(unique(c(data$place[data$kind == "workload"], data$place))))
  data$family <- verdict_family(data$verdict)
  data$words <- ifelse(
    data$kind == "one more workload", shown_interval(data),
    paste0(shown_change(data), ifelse(data$verdict == "none", "", paste0(", ", data$verdict)))
  )
  alone <- data[data$kind == "workload" & !is.na(data$lower), ]
  over <- data[data$kind != "workload" & !is.na(data$lower), ]
  ggplot2::ggplot(data, ggplot2::aes(y = .data$row)) +
    worth_band_layer(data) +
    ggplot2::geom_vline(xintercept = 0, colour = ink("text"), linewidth = 0.4) +
    ggplot2::geom_segment(
      data = over, ggplot2::aes(x = .data$lower, xend = .data$upper, yend = .data$row, colour = .data$family),
      linewidth = 5, alpha = 0.35
    ) +
    ggplot2::geom_segment(
      data = alone, ggplot2::aes(x = .data$lower, xend = .data$upper, yend = .data$row, colour = .data$family),
      linewidth = 1.1
    ) +
    ggplot2::geom_point(
      data = data[data$kind != "one more workload", ],
      ggplot2::aes(x = .data$change, colour = .data$family, shape = .data$family),
      size = 3, fill = ink("ground"), stroke = 1.2
    ) +
    ggplot2::geom_label(
      ggplot2::aes(x = .data$change, label = .data$words, colour = .data$family),
      hjust = kept_inside(
        data$change, data$panel, pmin(data$lower, -data$worth, na.rm = TRUE), pmax(data$upper, data$worth, na.rm = TRUE)
      ),
      vjust = -0.62, size = 3.1, fill = paste0(ink("ground"), "D0"), label.size = 0,
      label.padding = ggplot2::unit(0.1, "lines")
    ) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free_x", ncol = if (nlevels(data$panel) > 2) 2 else 1) +
    family_scales() +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(mult = 0.18)) +
    ggplot2::scale_y_discrete(limits = levels(data$row), expand = ggplot2::expansion(add = c(0.5, 0.9))) +
    ggplot2::labs(
      title = paste0("Over all workloads", if (labels$setting != "setting") paste0(": ", labels$setting)),
      subtitle = paste(strwrap(paste0(
        "Line: interval of one workload, as weighed. Bar: all of them together, at ",
        show_share(attr(data, "confidence")), " for these questions together.",
        if (any(!is.na(data$worth) & data$worth > 0)) " Shaded: not worth having."
      ), 105), collapse = "\n"), x = NULL, y = NULL
    ) +
    figure_theme()
}

register("picture", "overall", draw = plot_overall)
