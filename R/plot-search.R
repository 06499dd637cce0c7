# A search as the way that it took: value over time under test.

#' Figure of a search
#'
#' @param x A search from [read_search()], or a study of one.
#' @param workload,metric,context Not used: a search has one ladder.
#' @param ... Not used.
#' @return A ggplot2 object. Each bar is a pass, at the value that it tried, as long as it ran (thick: soak); a dot: it
#'   held, a cross: it did not (with what happened). The value that was found is marked; behind each value stands what
#'   its heaviest test still leaves possible, at 95 %.
#' @section Errors: `honestmargin_error_input` for what is no search, and where nothing was tried yet.
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: gear}", "search: {from: 1, to: 6, step: 1}", "blocks: 0", "sensors: {rate: 0}",
#'   "workloads:", "  - id: pull", "    command: test {arm} -lt 5", "    outcome_only: true"
#' ), file.path(folder, "study.yml"))
#' run_study(folder)$state
#' plot_search(read_search(folder))
plot_search <- function(x, workload = NULL, metric = NULL, context = NULL, ...) {
  data <- figure_data(x, "search", ...)
  labels <- labels_of(data)
  shown <- intersect(attr(data, "arms"), data$arm)
  # values that were passed over leave no gap where there are many
  data$at <- match(data$arm, shown)
  words <- attr(data, "words")
  words$at <- match(words$arm, shown)
  end <- max(data$to)
  found <- unique(data$at[data$found])
  ggplot2::ggplot(data, ggplot2::aes(y = .data$at)) +
    ggplot2::annotate("rect",
      xmin = -Inf, xmax = Inf, ymin = found - 0.42, ymax = found + 0.42, fill = ink("worth")
    ) +
    ggplot2::geom_path(ggplot2::aes(x = .data$to), colour = ink("noise"), linewidth = 0.5) +
    ggplot2::geom_segment(
      data = data[data$role == "rung", ], colour = ink("unclear"), linewidth = 1.6, alpha = 0.5,
      ggplot2::aes(x = .data$from, xend = .data$to, yend = .data$at)
    ) +
    ggplot2::geom_segment(
      data = data[data$role == "soak", ], colour = ink("gain"), linewidth = 4.5, alpha = 0.35,
      ggplot2::aes(x = .data$from, xend = .data$to, yend = .data$at)
    ) +
    ggplot2::geom_point(ggplot2::aes(x = .data$to, colour = .data$held, shape = .data$held), size = 2.6, stroke = 1.3) +
    ggplot2::geom_text(
      data = data[!data$held, ], ggplot2::aes(x = .data$to, label = paste0(.data$workload, ": ", .data$how)),
      # the axis goes on to the right, where words stand
      colour = ink("loss"), vjust = -1, hjust = pmin(0.5, data$to[!data$held] / max(data$to)), size = 3.2,
      check_overlap = TRUE
    ) +
    ggplot2::geom_text(
      data = words, ggplot2::aes(x = 1.04 * end, label = .data$words, colour = .data$held), hjust = 0, size = 3.4
    ) +
    ggplot2::scale_colour_manual(values = c(`TRUE` = ink("gain"), `FALSE` = ink("loss"))) +
    ggplot2::scale_shape_manual(values = c(`TRUE` = 16, `FALSE` = 4)) +
    # no time stands below the words
    ggplot2::scale_x_continuous(
      expand = ggplot2::expansion(mult = c(0.02, 0.55)), breaks = breaks_up_to(end)
    ) +
    ggplot2::scale_y_continuous(
      breaks = seq_along(shown), labels = arm_names(shown, labels), expand = ggplot2::expansion(add = c(0.7, 0.9))
    ) +
    ggplot2::labs(
      title = paste(strwrap(attr(data, "said")[1], 85), collapse = "\n"), y = NULL,
      x = if (data$unit[1] == "passes") "passes" else paste0("time under test, ", data$unit[1]),
      subtitle = paste(strwrap(paste(
        "Each value as it was tried, one pass after the other. Dot: held. Cross: failed. Thick: soak. Behind it: what",
        "its heaviest test leaves possible (95 %)."
      ), 105), collapse = "\n")
    ) +
    figure_theme()
}

register("picture", "search", draw = plot_search)
