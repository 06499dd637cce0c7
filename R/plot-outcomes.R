# Every pass as a bar as long as it ran, with a mark for how it ended.

#' Figure of how the passes ended
#'
#' @param x A study, a readings table, or what [weigh()] returned.
#' @param workload,context Which to show; `NULL` for all.
#' @param metric Not used: how a pass ends is the same for all.
#' @param ... Not used.
#' @return A ggplot2 object. Each bar is a counted pass, one behind the other, as long as it ran (one unit each
#'   where that is not known); a dot: it held, a cross: it did not (with what happened). Behind each arm: how many
#'   failed, and the failure rate with its 95 % limits.
#' @section Errors: As [plot_change()].
#' @export
#' @examples
#' plot_outcomes(read_study(demo_study()), workload = "tunnel")
plot_outcomes <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "outcomes", workload, metric, context, ...)
  labels <- labels_of(data)
  place <- place_names(data[c("workload", "context")])
  data$panel <- assert_panels(factor(place, unique(place)))
  data$row <- factor(arm_names(data$arm, labels), rev(unique(arm_names(attr(data, "arms"), labels))))
  widest <- tapply(data$to, data$panel, max)[data$panel]
  # a gap between bars, so that a pass can be told from the next
  data$end <- pmax(data$to - 0.004 * widest, data$from)
  last <- data[!duplicated(paste(data$panel, data$row), fromLast = TRUE), ]
  last$at <- widest[match(rownames(last), rownames(data))]
  fallen <- unique(paste(data$panel, data$row)[!data$held])
  last$all_held <- !paste(last$panel, last$row) %in% fallen
  ggplot2::ggplot(data, ggplot2::aes(y = .data$row)) +
    ggplot2::geom_segment(
      ggplot2::aes(x = .data$from, xend = .data$end, yend = .data$row, colour = .data$held),
      linewidth = 3.2, lineend = "butt", alpha = 0.35
    ) +
    ggplot2::geom_point(
      ggplot2::aes(x = .data$to, colour = .data$held, shape = .data$held),
      size = 2.8, stroke = 1.3
    ) +
    ggplot2::geom_text(
      data = data[!data$held, ], ggplot2::aes(x = .data$to, label = .data$outcome), colour = ink("loss"),
      vjust = -1.1, size = 3, check_overlap = TRUE
    ) +
    ggplot2::geom_text(
      data = last, ggplot2::aes(x = 1.03 * .data$at, label = .data$words, colour = .data$all_held), hjust = 0,
      size = 3.4
    ) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free_x", ncol = 1) +
    ggplot2::scale_colour_manual(values = c(`TRUE` = ink("gain"), `FALSE` = ink("loss"))) +
    ggplot2::scale_shape_manual(values = c(`TRUE` = 16, `FALSE` = 4)) +
    ggplot2::scale_x_continuous(
      expand = ggplot2::expansion(mult = c(0.01, 0.5)), breaks = function(limits) breaks_up_to(limits[2] / 1.54)
    ) +
    ggplot2::labs(
      title = "How each pass ended", y = NULL,
      x = if (all(data$unit != "passes")) paste0("time under test, ", data$unit[1]) else "passes",
      subtitle = paste(strwrap(paste(
        "Bar: a counted pass, as long as it ran. Dot: did not fail. Cross: failed. failure rate: 95 % limits, if",
        "passes fail independently."
      ), 105), collapse = "\n")
    ) +
    figure_theme()
}

# no mark on the axis where the words stand
breaks_up_to <- function(end) {
  at <- pretty(c(0, end))
  at[at <= 1.01 * end]
}

register("picture", "outcomes", draw = plot_outcomes)
