# Every pass as a point: what the verdicts rest on.

#' Figure of all passes
#'
#' @inheritParams plot_change
#' @param x A study, a readings table, or what [weigh()] returned.
#' @return A ggplot2 object. Points are passes (thin lines join the passes of a
#'   block); crosses were excluded and do not count; the bar is each arm's mean
#'   with the interval of its verdict, in the metric's unit; the dashed line is
#'   the baseline's mean and the shaded band what is not worth having around it. Of one arm alone the bar shows where
#'   its mean lies, at 95 % each.
#' @section Errors: As [plot_change()].
#' @export
#' @examples
#' plot_passes(read_study(demo_study()), workload = "harbour")
plot_passes <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "passes", workload, metric, context, ...)
  labels <- labels_of(data)
  data$panel <- assert_panels(panel_titles(
    data, ifelse(is.na(data$unit) | data$unit == "" | data$unit == data$metric, "", paste0(", ", data$unit))
  ))
  arms <- unique(data$arm[data$kind == "mean"])
  data$place <- match(data$arm, arms)
  passes <- data[data$kind == "pass" & !is.na(data$value) & data$place %in% seq_along(arms), ]
  means <- data[data$kind == "mean" & !is.na(data$value), ]
  if (!nrow(passes)) abort_input("no pass gave a value to draw", todo = "see the outcomes of the passes")
  passes$place <- passes$place + beside_equals(passes)
  passes <- within_scale(passes, means)
  ggplot2::ggplot(passes, ggplot2::aes(x = .data$place, y = .data$value)) +
    baseline_layers(means) +
    block_lines(passes) +
    ggplot2::geom_point(
      data = passes, ggplot2::aes(shape = ifelse(.data$state == "counted", "counted", "other")),
      colour = ink("pass"), size = 1.9, stroke = 0.9
    ) +
    mean_layers(means[means$state != "baseline", ]) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free_y", ncol = panel_columns(data)) +
    family_scales()[[1]] +
    ggplot2::scale_shape_manual(values = c(counted = 16, other = 4)) +
    ggplot2::scale_x_continuous(
      breaks = seq_along(arms), labels = marked_arms(arms, labels, attr(data, "marks")),
      limits = c(0.5, length(arms) + 0.5)
    ) +
    ggplot2::labs(
      title = "Every pass", x = if (labels$setting == "setting") NULL else labels$setting, y = NULL,
      subtitle = paste(strwrap(passes_legend(passes, means), 105), collapse = "\n")
    ) +
    figure_theme()
}

# equal passes would lie on one another, and ten be seen as five
beside_equals <- function(passes) {
  same <- paste(passes$panel, passes$arm, signif(passes$value, 3))
  nth <- stats::ave(seq_len(nrow(passes)), same, FUN = seq_along)
  of <- stats::ave(nth, same, FUN = max)
  (nth - (of + 1) / 2) * pmin(0.07, 0.24 / of)
}

# a pass that crashed after a second has a value far from all others, and would leave nothing else to be seen
within_scale <- function(passes, means) {
  passes$edge <- FALSE
  for (panel in unique(passes$panel)) {
    here <- passes$panel == panel
    counted <- here & passes$state == "counted"
    seen <- c(passes$value[counted], unlist(means[means$panel == panel, c("lower", "upper")]))
    seen <- seen[is.finite(seen)]
    if (!length(seen) || all(counted[here])) next
    reach <- range(seen) + c(-1, 1) * max(diff(range(seen)), 0.02 * abs(mean(seen))) * 0.3
    beyond <- here & !counted & (passes$value < reach[1] | passes$value > reach[2])
    passes$edge[beyond] <- TRUE
    passes$value[beyond] <- pmin(pmax(passes$value[beyond], reach[1]), reach[2])
  }
  passes
}

baseline_layers <- function(means) {
  base <- means[means$state == "baseline", ]
  list(
    ggplot2::geom_rect(
      data = base[!is.na(base$lower), ],
      ggplot2::aes(xmin = -Inf, xmax = Inf, ymin = .data$lower, ymax = .data$upper),
      inherit.aes = FALSE, fill = ink("worth")
    ),
    ggplot2::geom_hline(
      data = base, ggplot2::aes(yintercept = .data$value), linetype = "22", colour = ink("text"), linewidth = 0.5
    )
  )
}

block_lines <- function(passes) {
  joined <- passes[passes$state == "counted" & !is.na(passes$block), ]
  # one point alone is no line
  line <- paste(joined$panel, joined$block)
  joined <- joined[line %in% line[duplicated(line)], ]
  if (!nrow(joined)) {
    return(NULL)
  }
  ggplot2::geom_line(
    data = joined, ggplot2::aes(group = paste(.data$panel, .data$block)), colour = ink("link"), linewidth = 0.4
  )
}

# beside the points, so that neither hides the other
mean_layers <- function(means) {
  means$colour <- ifelse(means$state == "described", "unclear", verdict_family(means$state))
  list(
    ggplot2::geom_segment(
      data = means[!is.na(means$lower) & means$colour != "none", ],
      ggplot2::aes(
        x = .data$place + 0.22, xend = .data$place + 0.22, y = .data$lower, yend = .data$upper,
        colour = .data$colour
      ),
      linewidth = 1.1
    ),
    ggplot2::geom_segment(
      data = means,
      ggplot2::aes(x = .data$place + 0.14, xend = .data$place + 0.30, yend = .data$value, colour = .data$colour),
      linewidth = 1.1
    )
  )
}

passes_legend <- function(passes, means) {
  alone <- any(means$state == "described")
  paste0(
    "Points: passes", if (any(!is.na(passes$block)) && !alone) ", joined within blocks",
    ". Bar: ",
    if (alone) "where the mean lies, at 95 %." else "mean with the verdict's interval. Dashed: baseline mean.",
    if (any(!is.na(means$lower) & means$state == "baseline")) " Shaded: not worth having.",
    if (any(passes$state != "counted")) " Cross: does not count.",
    if (any(passes$edge)) " At the edge: lies beyond."
  )
}

register("picture", "passes", draw = plot_passes)
