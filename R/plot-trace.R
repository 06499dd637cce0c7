# Frame times over time, the arms one below the other on one time axis.

#' Figure of frame times over time
#'
#' @param x A study with frame logs, or what [weigh()] made of one.
#' @param workload Which workload; `NULL` for the first that has frame logs.
#' @param context Which level of the second factor; `NULL` for the first that has them.
#' @return A ggplot2 object: for each arm the pass in the middle of its arm (by
#'   average rate); the line is the median frame time of each slice of time, the
#'   spikes reach to the slowest frame in it.
#' @section Errors: `honestmargin_error_input` where there is no frame log.
#' @export
#' @examples
#' plot_trace(read_study(demo_study()), workload = "harbour")
plot_trace <- function(x, workload = NULL, context = NULL) {
  data <- figure_data(x, "trace", workload, NULL, context)
  told <- labels_of(data)
  title <- function(rows) paste0(arm_names(rows$arm, told), " (pass ", rows$pass, ")")
  data$panel <- factor(title(data), unique(title(data)))
  segments <- attr(data, "segments")
  seen <- range(data$fastest_ms, data$slowest_ms)
  marks <- usual_marks(c(4, 8, 16.7, 33.3, 66.7, 133, 250, 500), seen)
  ggplot2::ggplot(data, ggplot2::aes(x = .data$time_s)) +
    ggplot2::geom_linerange(
      ggplot2::aes(ymin = .data$fastest_ms, ymax = .data$slowest_ms),
      colour = "#9DB4CC", linewidth = 0.45
    ) +
    ggplot2::geom_line(ggplot2::aes(y = .data$median_ms), colour = ink[["text"]], linewidth = 0.5) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), ncol = 1) +
    ggplot2::scale_y_log10(
      breaks = marks, labels = format(marks, trim = TRUE, drop0trailing = TRUE),
      sec.axis = ggplot2::sec_axis(
        ~ 1000 / .,
        breaks = usual_marks(c(15, 30, 60, 120, 240), rev(1000 / seen)), name = "frames per second"
      )
    ) +
    ggplot2::labs(
      title = paste0("Frame times in ", place_names(data[1, ])), x = "time in the pass (s)", y = "frame time (ms)",
      subtitle = "The middle pass of each arm, by average. Line: median of a slice of time. Spike: its slowest frame."
    ) +
    figure_theme() +
    if (NROW(segments)) segment_layers(segments, factor(title(segments), levels(data$panel)))
}

# the marks one knows, where two of them can be seen
usual_marks <- function(usual, seen) {
  if (sum(usual >= seen[1] & usual <= seen[2]) > 1) usual else pretty(seen, 4)
}

segment_layers <- function(segments, panel) {
  segments$panel <- panel
  list(
    ggplot2::geom_vline(
      ggplot2::aes(xintercept = .data$time_s),
      data = segments, colour = "#8C6D1F", linewidth = 0.5, linetype = "22"
    ),
    ggplot2::geom_text(
      ggplot2::aes(x = .data$time_s, label = .data$segment),
      data = segments, y = Inf, vjust = 1.4, hjust = -0.08, size = 3.4, colour = "#8C6D1F"
    )
  )
}

register("picture", "trace", draw = function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  plot_trace(x, workload, context)
})
