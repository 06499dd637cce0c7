# The change of every percentile of frame time, the slow frames drawn wide.

#' Figure of the change at each percentile of frame time
#'
#' @param x A study, or what [weigh()] made of one.
#' @param workload,context Which to show; `NULL` for all.
#' @param metric Not used: it is always the frame time.
#' @param ... Passed to [weigh()].
#' @return A ggplot2 object: for each arm the change of frame time (percent, above 0 is slower) against the share of
#'   frames that are slower than the percentile, on a logarithmic axis, so that the slow ones are wide. Band: holds at
#'   all percentiles together; points are coloured where it leaves 0.
#' @section Errors: As [weigh_frames()].
#' @export
#' @examples
#' plot_frames(read_study(demo_study()), workload = "harbour")
plot_frames <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "frames", workload, metric, context, ...)
  labels <- labels_of(data)
  panel <- paste0(
    place_names(data[c("workload", "context")]), ": ", arm_names(data$arm, labels), " against ",
    arm_names(data$baseline, labels)
  )
  data$panel <- assert_panels(factor(panel, unique(panel)))
  data$slow <- -log10(1 - data$share)
  data$family <- ifelse(data$differs == "no", "none", ifelse(data$change > 0, "loss", "gain"))
  # a band without end is none, and its end must not set the scale
  endless <- is.infinite(data$upper)
  data[endless, c("lower", "upper")] <- data$change[endless]
  dot <- if (max(table(data$panel)) > 20) 1.1 else 2.4
  marks <- c(0.99, 0.5, 0.1, 0.01, 0.001)
  ggplot2::ggplot(data, ggplot2::aes(x = .data$slow)) +
    ggplot2::geom_hline(yintercept = 0, colour = ink("text"), linewidth = 0.4) +
    ggplot2::geom_ribbon(
      ggplot2::aes(ymin = .data$lower, ymax = .data$upper),
      fill = ink("noise"), alpha = 0.5
    ) +
    ggplot2::geom_line(ggplot2::aes(y = .data$change), colour = ink("unclear"), linewidth = 0.5) +
    ggplot2::geom_point(ggplot2::aes(y = .data$change, colour = .data$family), size = dot) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free_y", ncol = if (nlevels(data$panel) > 3) 2 else 1) +
    ggplot2::scale_colour_manual(values = ink(c("gain", "loss", "none"))) +
    ggplot2::scale_x_continuous(
      breaks = -log10(marks), labels = c("fastest", "half", "slowest 10 %", "1 %", "0.1 %")
    ) +
    ggplot2::labs(
      title = "Where in the distribution frame times change", x = "frames that are slower than this one",
      y = "change of frame time, %",
      subtitle = paste(strwrap(paste0(
        "Above 0: slower. Band: holds at all percentiles of its comparison together, at ",
        show_share(attr(data, "confidence")), if (any(data$by == "looks")) ", however often one looked",
        if (any(endless)) " (none where a panel shows none: too few blocks for it yet)",
        ". Red: surely slower. Blue: surely faster. Grey: within the noise."
      ), 105), collapse = "\n")
    ) +
    figure_theme()
}

register("picture", "frames", draw = plot_frames)
