# Loads, clocks, temperatures and power over time: what the machine did meanwhile.

#' Figure of the sensors over time
#'
#' @param x A study with sensors, or what [weigh()] made of one.
#' @param workload Which workload; `NULL` for the first that has sensors.
#' @param context Which level of the second factor; `NULL` for the first that has them.
#' @return A ggplot2 object: one panel per series, one line per arm, of the same
#'   passes that [plot_trace()] shows.
#' @section Errors: `honestmargin_error_input` where there are no sensors.
#' @export
#' @examples
#' plot_sensors(read_study(demo_study()), workload = "harbour")
plot_sensors <- function(x, workload = NULL, context = NULL) {
  data <- figure_data(x, "sensors", workload, NULL, context)
  baseline <- traced_study(x)$plan$setting$baseline
  labels <- labels_of(data)
  arms <- unique(data$arm)
  data$shown <- factor(arm_names(data$arm, labels), unique(arm_names(arms, labels)))
  data$label <- factor(data$label, unique(data$label))
  width <- ifelse(arms == baseline, 1, 0.6)
  ggplot2::ggplot(data[!is.na(data$value), ], ggplot2::aes(x = .data$time_s, y = .data$value)) +
    ggplot2::geom_line(ggplot2::aes(colour = .data$shown, linewidth = .data$shown)) +
    ggplot2::facet_wrap(ggplot2::vars(.data$label), scales = "free_y", ncol = min(3, nlevels(data$label))) +
    ggplot2::scale_colour_manual(values = arm_ink(arms, baseline), name = NULL) +
    ggplot2::scale_linewidth_manual(values = width, name = NULL) +
    # loads and power are read from 0; a clock or a temperature is not
    ggplot2::geom_blank(ggplot2::aes(y = 0), data = data[grepl("load|power", data$series), ]) +
    ggplot2::scale_y_continuous(limits = steady_range) +
    ggplot2::labs(
      title = paste0("What the machine did in ", place_names(data[1, ])), x = "time in the pass (s)", y = NULL,
      subtitle = paste0(
        middle_words(attr(data, "by"), labels), " Thick: the baseline, ", arm_names(baseline, labels), "."
      )
    ) +
    figure_theme() +
    ggplot2::theme(
      legend.position = "top", legend.justification = "left", legend.margin = ggplot2::margin(0, 0, 0, 0),
      legend.box.spacing = ggplot2::unit(4, "pt")
    )
}

# a clock that stands still is a flat line in a panel of its size, no picture of its last digit
steady_range <- function(range) {
  room <- max(0, 0.02 * max(abs(range)) - diff(range) / 2)
  range + c(-room, room)
}

# the baseline in ink, the arms in hues that stay apart for colour-blind readers (Okabe and Ito 2008)
arm_ink <- function(arms, baseline) {
  hues <- c("#0072B2", "#E69F00", "#009E73", "#D55E00", "#CC79A7", "#56B4E9", "#8C6D1F")
  out <- rep(ink("text"), length(arms))
  out[arms != baseline] <- rep_len(hues, sum(arms != baseline))
  out
}

register("picture", "sensors", draw = function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  plot_sensors(x, workload, context)
})
