# What the checks saw in single passes, drawn on their traces.

#' Figure of what the checks saw
#'
#' @param x A study with frame logs, or what [weigh()] made of one.
#' @param pass Ids of passes; `NULL` for the three in which the gravest was seen.
#' @param workload,context Only passes of these.
#' @return A ggplot2 object, a panel per pass: its trace, and above it what was seen. The orange line is how the other
#'   passes of its arm move along, laid on its first third; a dashed line is where a limiter held; yellow is a start
#'   unlike the rest.
#' @section Errors: `honestmargin_error_input` where no pass with a frame log has anything to show.
#' @seealso [check_passes()] for all that was seen.
#' @export
#' @examples
#' plot_check(read_study(demo_study()), pass = "p005")
plot_check <- function(x, pass = NULL, workload = NULL, context = NULL) {
  data <- figure_data(x, "check", workload, NULL, context, pass = pass)
  labels <- labels_of(data)
  first <- data[!duplicated(data$pass), , drop = FALSE]
  text <- paste0(
    "pass ", first$pass, " (", arm_names(first$arm, labels), ", ", place_names(first), "): ",
    attr(data, "said")[first$pass]
  )
  heading <- vapply(lapply(text, strwrap, 92), paste, "", collapse = "\n")
  title <- function(rows) heading[match(rows$pass, first$pass)]
  panel <- function(rows) factor(title(rows), heading)
  others <- attr(data, "others")
  held <- attr(data, "held")
  drawn_trace(data, title) +
    (if (NROW(held)) {
      ggplot2::geom_hline(
        ggplot2::aes(yintercept = .data$limit_ms),
        data = cbind(held, panel = panel(held)), linetype = "42", colour = ink("text")
      )
    }) +
    (if (NROW(others)) {
      ggplot2::geom_step(
        ggplot2::aes(x = .data$time_s, y = .data$median_ms),
        data = cbind(others, panel = panel(others)), colour = ink("others"), linewidth = 0.9, direction = "mid"
      )
    }) +
    ggplot2::theme(strip.text = ggplot2::element_text(hjust = 0)) +
    ggplot2::labs(
      title = "What the checks saw", subtitle = check_legend(NROW(others), NROW(held), NROW(attr(data, "loads")))
    )
}

check_legend <- function(others, held, starts) {
  paste(strwrap(paste(c(
    "Line: median of a slice of time. Blue: its fastest to its slowest frame.",
    if (others) "Orange: how the other passes of its arm move along, laid on its first third.",
    if (held) "Dashed: where a limiter held.", if (starts) "Yellow: begins unlike the rest."
  ), collapse = " "), 105), collapse = "\n")
}

register("picture", "check", draw = function(x, workload = NULL, metric = NULL, context = NULL, ..., pass = NULL) {
  plot_check(x, pass, workload, context)
})
