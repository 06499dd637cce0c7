# Frame times over time, the arms one below the other on one time axis.

#' Figure of frame times over time
#'
#' @param x A study with frame logs, or what [weigh()] made of one.
#' @param workload Which workload; `NULL` for the first that has frame logs.
#' @param context Which level of the second factor; `NULL` for the first that has them.
#' @param pass Ids of passes, to put a bad one beside a good one; `NULL` for the pass in the middle of each arm (by
#'   average rate).
#' @return A ggplot2 object, a panel per pass; the line is the median frame time of each slice of time, the
#'   spikes reach to the slowest frame in it; deep drops are marked with how long they took.
#' @section Errors: `honestmargin_error_input` where there is no frame log.
#' @export
#' @examples
#' plot_trace(read_study(demo_study()), workload = "harbour")
plot_trace <- function(x, workload = NULL, context = NULL, pass = NULL) {
  data <- figure_data(x, "trace", workload, NULL, context, pass = pass)
  places <- length(unique(place_names(data))) > 1
  labels <- labels_of(data)
  title <- function(rows) {
    paste0(arm_names(rows$arm, labels), if (places) paste0(", ", place_names(rows)), " (pass ", rows$pass, ")")
  }
  drawn_trace(data, title) + ggplot2::labs(
    title = if (places) "Frame times" else paste0("Frame times in ", place_names(data[1, ])),
    subtitle = trace_legend(
      middle_words(attr(data, "by"), labels), NROW(attr(data, "drops")) > 0, NROW(attr(data, "loads")) > 0
    )
  )
}

#' Traces, a panel each
#' @param title Function of rows that gives the heading of their panel.
#' @noRd
drawn_trace <- function(data, title) {
  drops <- attr(data, "drops")
  data$panel <- factor(title(data), unique(title(data)))
  segments <- attr(data, "segments")
  loads <- attr(data, "loads")
  seen <- range(data$fastest_ms, data$slowest_ms)
  marks <- usual_marks(c(4, 8, 16.7, 33.3, 66.7, 133, 250, 500), seen)
  ggplot2::ggplot(data, ggplot2::aes(x = .data$time_s)) +
    (if (NROW(loads)) start_layer(loads, factor(title(loads), levels(data$panel)), seen)) +
    # one outline, not a line for each slice: a page with several traces stays small
    ggplot2::geom_ribbon(
      ggplot2::aes(ymin = .data$fastest_ms, ymax = .data$slowest_ms),
      fill = ink("spikes"), colour = ink("spikes"), linewidth = 0.3, outline.type = "full"
    ) +
    ggplot2::geom_line(ggplot2::aes(y = .data$median_ms), colour = ink("text"), linewidth = 0.5) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), ncol = 1) +
    ggplot2::scale_y_log10(
      # words of a drop stand above it
      expand = ggplot2::expansion(mult = c(0.05, if (NROW(drops)) 0.3 else 0.05)), breaks = marks,
        labels = show_exact(marks),
      sec.axis = ggplot2::sec_axis(
        ~ 1000 / .,
        breaks = fewer_marks(usual_marks(c(15, 30, 60, 120, 240), rev(1000 / seen)), nlevels(data$panel)),
        name = "frames per second"
      )
    ) +
    ggplot2::labs(x = "time in the pass (s)", y = "frame time (ms)") +
    figure_theme() +
    (if (NROW(drops)) drop_layers(drops, factor(title(drops), levels(data$panel)))) +
    if (NROW(segments)) segment_layers(segments, factor(title(segments), levels(data$panel)))
}

start_layer <- function(loads, panel, seen) {
  loads$panel <- panel
  ggplot2::geom_rect(
    ggplot2::aes(xmin = 0, xmax = .data$seconds, ymin = seen[1], ymax = seen[2]),
    data = loads, inherit.aes = FALSE, fill = ink("start")
  )
}

#' Which pass of an arm stands for it
#' @param by The metric it was chosen by, `NA` for none, `NULL` where the reader chose: then there is nothing to say.
#' @noRd
middle_words <- function(by, labels) {
  if (is.null(by)) {
    return(NULL)
  }
  if (is.na(by)) {
    return("The first pass of each arm.")
  }
  label <- metric_labels(by, labels)
  paste0("The middle pass of each arm, by ", if (label == by) empty_to(known_metrics()[[by]]$label, by) else label, ".")
}

#' @param middle From `middle_words()`.
#' @noRd
trace_legend <- function(middle, drops, starts) {
  paste(strwrap(paste0(
    if (!is.null(middle)) paste0(middle, " "), "Line: median of a slice of time. ",
    "Spike: its slowest frame.", if (starts) " Yellow: begins unlike the rest.",
    if (drops) " Triangle: a deep drop, with its length."
  ), 105), collapse = "\n")
}

drop_layers <- function(drops, panel) {
  drops$panel <- panel
  drops$words <- paste(show_exact(round(drops$seconds, 2)), "s")
  list(
    ggplot2::geom_point(
      ggplot2::aes(x = .data$start_s, y = .data$slowest_ms),
      data = drops, shape = 25, fill = ink("loss"),
      colour = ink("loss"), size = 2
    ),
    ggplot2::geom_text(
      ggplot2::aes(x = .data$start_s, y = .data$slowest_ms, label = .data$words),
      data = drops, hjust = kept_inside(drops$start_s, drops$panel, 0, max(drops$start_s), 0), vjust = -0.8,
        size = 3, colour = ink("loss"), check_overlap = TRUE
    )
  )
}

# the marks one knows, where two of them can be seen
usual_marks <- function(usual, seen) {
  if (sum(usual >= seen[1] & usual <= seen[2]) > 1) usual else pretty(seen, 4)
}

# of many panels each is low, and every second mark is enough
fewer_marks <- function(marks, panels) if (panels > 4) marks[seq_along(marks) %% 2 == 0] else marks

segment_layers <- function(segments, panel) {
  segments$panel <- panel
  list(
    ggplot2::geom_vline(
      ggplot2::aes(xintercept = .data$time_s),
      data = segments, colour = ink("mark"), linewidth = 0.5, linetype = "22"
    ),
    ggplot2::geom_text(
      ggplot2::aes(x = .data$time_s, label = .data$segment),
      data = segments, y = Inf, vjust = 1.4, hjust = -0.08, size = 3.4, colour = ink("mark")
    )
  )
}

register("picture", "trace", draw = function(x, workload = NULL, metric = NULL, context = NULL, ..., pass = NULL) {
  plot_trace(x, workload, context, pass)
})

#' Figure of the passes that have the deepest drops
#'
#' @inheritParams plot_trace
#' @param metric Not used: it is always the frame time.
#' @param ... Not used.
#' @return As [plot_trace()], of up to four passes, two of an arm at most, the deepest drop first.
#' @section Errors: `honestmargin_error_input` where no pass has a deep drop, or none has a frame log.
#' @export
#' @examples
#' plot_drops(read_study(demo_study()))
plot_drops <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  assert_no_dots(...)
  data <- figure_data(x, "drops", workload, NULL, context)
  labels <- labels_of(data)
  title <- function(rows) {
    paste0(arm_names(rows$arm, labels), ", ", place_names(rows[c("workload", "context")]), " (pass ", rows$pass, ")")
  }
  drops <- attr(data, "drops")
  worst <- drops[which.max(drops$depth), , drop = FALSE]
  drawn_trace(data, title) + ggplot2::labs(
    title = paste0(
      "The deepest drop: pass ", worst$pass, " of ", arm_names(worst$arm, labels), ", ", show_number(worst$seconds, 2),
      " s at ", show_number(worst$start_s, 3), " s"
    ),
    subtitle = trace_legend("The passes that have the deepest drops.", TRUE, NROW(attr(data, "loads")) > 0)
  )
}

register("picture", "drops", draw = plot_drops)
