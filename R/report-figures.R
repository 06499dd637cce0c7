# The figures of the report, workload by workload.

report_figures <- function(x, verdicts, how) {
  tags <- htmltools::tags
  primary <- verdicts[verdicts$role == "primary", , drop = FALSE]
  shown <- utils::head(unique(primary$workload), 12)
  traced <- places_with(x, "traces")
  sensed <- places_with(x, "sensors")
  parts <- lapply(shown, function(workload) {
    metrics <- utils::head(unique(primary$metric[primary$workload == workload]), panel_limit)
    rows <- 1.1 + 0.62 * length(unique(primary$arm))
    height <- 0.9 + rows * ceiling(length(metrics) / 3)
    list(
      tags$h3(workload),
      figure_box(
        plot_change(verdicts, workload, metrics), 9.2, height, paste("change against the baseline in", workload)
      ),
      if (any(!is.na(primary$arm_value[primary$workload == workload]))) {
        figure_box(
          do.call(plot_passes, c(list(x, workload, metrics), how)), 9.2, 0.9 + 2.7 * ceiling(length(metrics) / 3),
          paste("every pass of", workload)
        )
      },
      if (workload %in% traced) {
        figure_box(
          plot_trace(x, workload), 9.2, 1.2 + 1.05 * length(unique(primary$arm)) + 1,
          paste("frame times over time in", workload)
        )
      },
      if (workload %in% sensed) {
        figure_box(plot_sensors(x, workload), 9.2, 6.4, paste("sensors over time in", workload))
      }
    )
  })
  tags$section(tags$h2("Figures"), parts)
}

# workloads that have a counted pass with frames, or with sensors
places_with <- function(x, kind) {
  if (inherits(x, "honestmargin_study")) {
    p <- x$passes
    unique(p$workload[p$pass %in% names(x[[kind]]) & p$role == "counted" & p$outcome == "ok"])
  }
}

figure_box <- function(figure, width, height, about) {
  htmltools::tags$figure(
    role = "img", `aria-label` = about,
    htmltools::tags$div(class = "scroll", htmltools::HTML(inline_svg(figure, width, height)))
  )
}
