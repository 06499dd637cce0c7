# Options ranked, each with its interval.

#' Figure of a screening
#'
#' @param x A study with a block `screen`, or what [weigh_screen()] returned.
#' @inheritParams plot_change
#' @param ... Passed to [weigh_screen()].
#' @return A ggplot2 object, a panel per workload and metric: the options from the one that brings most down, each with
#'   its change and interval; the worth is shaded.
#' @section Errors: As [weigh_screen()].
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: options}", "screen:", "  way: together", "  options:",
#'   "    - {name: fog, from: on, to: off}", "    - {name: water, from: fine, to: coarse}",
#'   "workloads: [{id: lap}]", "metrics: [{id: fps_avg, worth: 2}]", "blocks: 3"
#' ), file.path(folder, "study.yml"))
#' for (block in 1:3) for (arm in c("start", "mix01", "mix02", "mix03")) {
#'   add_pass(folder, arm = arm, values = c(fps_avg = 60 + block + 3 * (arm == "mix01")))
#' }
#' plot_screen(read_study(folder))
plot_screen <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "screen", workload, metric, context, ...)
  labels <- labels_of(data)
  data$panel <- assert_panels(panel_titles(data, ifelse(
    data$scale == "percent", ", change in %", paste0(", difference", unit_suffix(data$unit))
  )))
  up <- ifelse(data$better == "lower", -1, 1)
  # the same option stands at another height in another panel
  data$row <- factor(paste(data$panel, data$option), unique(paste(data$panel, data$option)[order(up * data$change)]))
  data$name <- paste0(data$option, "\n", data$from, " \u2192 ", data$to)
  names <- stats::setNames(data$name, data$row)
  data$family <- verdict_family(data$verdict)
  data$words <- paste0(shown_change(data), ", ", data$verdict)
  ggplot2::ggplot(data, ggplot2::aes(y = .data$row, x = .data$change, colour = .data$family)) +
    worth_band_layer(data) +
    ggplot2::geom_vline(xintercept = 0, colour = ink("text"), linewidth = 0.4) +
    ggplot2::geom_segment(
      data = data[!is.na(data$lower), ],
      ggplot2::aes(x = .data$lower, xend = .data$upper, yend = .data$row), linewidth = 1.1
    ) +
    ggplot2::geom_point(ggplot2::aes(shape = .data$family), size = 3, fill = ink("ground"), stroke = 1.2) +
    ggplot2::geom_label(
      ggplot2::aes(label = .data$words),
      vjust = -0.45, size = 3.1, fill = paste0(ink("ground"), "D0"), label.size = 0,
      label.padding = ggplot2::unit(0.1, "lines")
    ) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free", ncol = if (nlevels(data$panel) > 1) 2 else 1) +
    family_scales() +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(mult = if (nlevels(data$panel) > 1) 0.32 else 0.18)) +
    ggplot2::scale_y_discrete(labels = function(at) names[at], expand = ggplot2::expansion(add = c(0.5, 0.9))) +
    ggplot2::labs(
      title = paste(utils::head(strwrap(attr(data, "said")[1], 90), 2), collapse = "\n"),
      subtitle = paste(strwrap(paste0(
        "What changing each option does. Line: interval, all together at ", show_share(attr(data, "confidence")), ".",
        if (any(!is.na(data$worth) & data$worth > 0)) " Shaded: not worth having."
      ), 105), collapse = "\n"), x = NULL, y = NULL
    ) +
    figure_theme()
}

register("picture", "screen", draw = plot_screen)
