# The answer as a picture: change of each arm, its interval, what is worth having.

#' Figure of changes against the baseline
#'
#' @param x A study, a readings table, or what [weigh()] returned.
#' @param workload,metric,context Which to show; `NULL` for all workloads and contexts and the
#'   primary metrics.
#' @param ... Passed to [weigh()].
#' @return A ggplot2 object. Each row of a panel is an arm; the line is the
#'   interval that decided the verdict, the shaded band what is not worth having,
#'   the grey bar one standard deviation of a single pass (the noise).
#' @section Errors: As [figure_data()]; `honestmargin_error_needed` for more
#'   panels than fit.
#' @export
#' @examples
#' plot_change(read_study(demo_study()), workload = "harbour")
plot_change <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "change", workload, metric, context, ...)
  labels <- labels_of(data)
  data$panel <- assert_panels(panel_titles(
    data, ifelse(data$scale == "percent", ", change in %", paste0(", difference", unit_suffix(data$unit)))
  ))
  named <- marked_arms(data$arm, labels, attr(data, "marks"))
  # what it is compared with stands beside its name, before the mark of a failure
  if (has_pairs(data)) {
    beside <- paste0(" v ", arm_names(data$baseline, labels))
    named <- paste0(sub("\n.*", "", named), beside, sub("^[^\n]*", "", named))
  }
  data$row <- factor(named, rev(unique(named)))
  data$family <- verdict_family(data$verdict)
  data$words <- change_words(data)
  silent <- is.na(data$lower) | data$verdict == "blocked"
  data$measured <- ifelse(data$verdict == "no basis" & is.finite(data$change), data$change, 0)
  shown <- data[!silent, ]
  data$said_at <- ifelse(
    is.na(data$lower) | data$family == "none", data$measured, (data$lower + pmin(data$upper, 1e6)) / 2
  )
  ggplot2::ggplot(data, ggplot2::aes(y = .data$row)) +
    worth_band_layer(data) +
    ggplot2::geom_vline(xintercept = 0, colour = ink("text"), linewidth = 0.4) +
    ggplot2::geom_segment(
      data = data[!is.na(data$noise), ], ggplot2::aes(x = -.data$noise, xend = .data$noise, yend = .data$row),
      colour = ink("noise"), linewidth = 5, lineend = "butt"
    ) +
    ggplot2::geom_label(
      data = data,
      ggplot2::aes(
        x = .data$said_at,
        label = .data$words,
        colour = .data$family
      ),
      hjust = kept_inside(
        data$said_at, data$panel, pmin(data$lower, -data$worth, -data$noise, data$measured, na.rm = TRUE),
        pmax(data$upper, data$worth, data$noise, data$measured, na.rm = TRUE)
      ),
      vjust = -0.62, size = 3.3, fill = paste0(ink("ground"), "D0"), label.size = 0,
      label.padding = ggplot2::unit(0.12, "lines"),
      fontface = ifelse(data$family %in% c("gain", "loss"), "bold", "plain")
    ) +
    ggplot2::geom_point(
      data = data[data$measured != 0, ], ggplot2::aes(x = .data$measured), shape = 4, size = 3,
      colour = ink("unclear")
    ) +
    ggplot2::geom_segment(
      data = shown, ggplot2::aes(x = .data$lower, xend = .data$upper, yend = .data$row, colour = .data$family),
      linewidth = 1.1
    ) +
    ggplot2::geom_point(
      data = shown, ggplot2::aes(x = .data$change, colour = .data$family, shape = .data$family), size = 3.4,
      fill = ink("ground"), stroke = 1.2
    ) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free_x", ncol = panel_columns(data)) +
    family_scales() +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(mult = 0.18)) +
    ggplot2::scale_y_discrete(expand = ggplot2::expansion(add = c(0.5, 0.85))) +
    ggplot2::labs(
      title = change_title(data, labels), subtitle = paste(strwrap(change_legend(data), 105), collapse = "\n"),
      x = NULL, y = NULL
    ) +
    figure_theme()
}

unit_suffix <- function(unit) {
  ifelse(
    is.na(unit) | unit == "", "", paste0(" in ", ifelse(unit == "%", "percentage points", unit))
  )
}

change_words <- function(data) {
  measured <- paste0(shown_change(data), ", ")
  word <- ifelse(data$verdict == "unclear" & data$more_passes > 0 & is.finite(data$more_passes),
    paste0("unclear (", data$more_passes, if (go_on_counting(data)) " more)" else " would settle it)"), data$verdict
  )
  ifelse(data$verdict == "blocked", "blocked",
    ifelse(data$verdict == "no basis", paste0(measured_words(data), "noise not known"),
      ifelse(is.na(data$lower), word, paste0(measured, word))
    )
  )
}

measured_words <- function(data) ifelse(is.na(data$change), "", paste0(shown_change(data), " measured, "))

# what was found, where that is short enough to head a figure
change_title <- function(data, labels) {
  said <- found_title(data, labels)
  if (length(said) && nchar(said) <= 90) {
    return(said)
  }
  paste0(
    "Change against ", baseline_words(data), if (labels$setting != "setting") paste0(", ", labels$setting)
  )
}

change_legend <- function(data) {
  paste0(
    "Against ", baseline_words(data), ". Line: interval. ", family_words(data),
    if (any(!is.na(data$worth) & data$worth > 0)) " Shaded: within the worth.",
    if (any(!is.na(data$noise))) " Grey bar: noise of one pass.",
    if (any(data$verdict == "no basis" & is.finite(data$change))) " Cross: measured, noise not known.",
    if (any(data$role == "exploratory")) " Exploratory metrics: each interval on its own."
  )
}

worth_band_layer <- function(data) {
  band <- unique(data[!is.na(data$worth) & data$worth > 0, c("panel", "worth"), drop = FALSE])
  if (!nrow(band)) {
    return(NULL)
  }
  ggplot2::geom_rect(
    data = band, ggplot2::aes(xmin = -.data$worth, xmax = .data$worth, ymin = -Inf, ymax = Inf),
    inherit.aes = FALSE, fill = ink("worth")
  )
}

family_scales <- function() {
  words <- c("gain", "loss", "negligible", "unclear", "none")
  list(
    ggplot2::scale_colour_manual(values = ink(words), limits = words),
    ggplot2::scale_shape_manual(values = stats::setNames(c(24, 25, 22, 21, 4), words), limits = words)
  )
}

register("picture", "change", draw = plot_change)
