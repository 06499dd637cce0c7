# The level of study after study, as a picture.

#' Figure of the level of studies over time
#'
#' @param x What [weigh_against()] returned.
#' @return A ggplot2 object: the mean of each study with its interval, in order of time; where a study left the level of
#'   those before it by more than they differ among themselves (three at least are needed to know), a line marks it.
#' @section Errors: `honestmargin_error_input` for a table that has no levels, `honestmargin_error_needed` for more
#'   panels than fit.
#' @export
#' @examples
#' now <- read_study(demo_study())
#' plot_levels(weigh_against(now, list(now)))
plot_levels <- function(x) {
  data <- attr(x, "levels")
  if (is.null(data)) abort_input("no levels to draw", todo = "give what weigh_against() returned")
  labels <- labels_of(x)
  data$label <- metric_labels(data$metric, labels)
  data$panel <- assert_panels(panel_titles(
    data, ifelse(is.na(data$unit) | data$unit == "", "", paste0(", ", data$unit))
  ))
  name <- paste0(data$study, "\n", data$at)
  data$place <- match(name, unique(name))
  moved <- data[data$change_point, , drop = FALSE]
  ggplot2::ggplot(data, ggplot2::aes(x = .data$place, y = .data$value)) +
    ggplot2::geom_line(colour = ink("link"), linewidth = 0.4) +
    ggplot2::geom_linerange(
      ggplot2::aes(ymin = .data$lower, ymax = .data$upper),
      data = data[!is.na(data$lower), ], colour = ink("gain"), linewidth = 1
    ) +
    ggplot2::geom_point(colour = ink("gain"), size = 2.6) +
    ggplot2::geom_vline(
      ggplot2::aes(xintercept = .data$place - 0.5),
      data = moved, colour = ink("loss"), linewidth = 0.8
    ) +
    ggplot2::facet_wrap(ggplot2::vars(.data$panel), scales = "free_y", ncol = panel_columns(data)) +
    ggplot2::scale_x_continuous(
      breaks = seq_along(unique(name)), labels = unique(name), expand = ggplot2::expansion(add = 0.6)
    ) +
    ggplot2::labs(
      title = "Study after study", x = NULL, y = NULL, subtitle = paste0(
        "Point: mean of a study, with its interval over passes.",
        if (nrow(moved)) {
          " Line: left the level of those before it."
        } else {
          " No change of level that three studies or more bear out."
        }
      )
    ) +
    figure_theme()
}
