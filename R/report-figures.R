# The figures of the report, workload by workload.

report_figures <- function(verdicts) {
  tags <- htmltools::tags
  x <- what_was_weighed(verdicts)
  primary <- verdicts[verdicts$role == "primary", , drop = FALSE]
  shown <- utils::head(unique(primary$workload), 12)
  traced <- places_with(x, "frames")
  sensed <- places_with(x, "sensors")
  boxes <- unlist(lapply(shown, function(workload) {
    metrics <- utils::head(unique(primary$metric[primary$workload == workload]), panel_limit)
    arms <- length(unique(primary$arm))
    rows <- ceiling(length(metrics) / 3)
    box <- function(kind, height, about, metric = NULL) {
      list(workload = workload, kind = kind, metric = metric, height = height, about = paste(about, "in", workload))
    }
    Filter(length, list(
      box("change", 0.9 + (1.1 + 0.62 * arms) * rows, "change against the baseline", metrics),
      if (any(!is.na(primary$arm_value[primary$workload == workload]))) {
        box("passes", 0.9 + 2.7 * rows, "every pass", metrics)
      },
      if (workload %in% traced) box("trace", 2.2 + 1.05 * arms, "frame times over time"),
      if (workload %in% sensed) box("sensors", 6.4, "sensors over time")
    ))
  }), recursive = FALSE)
  drawn <- on_all_cores(boxes, function(b) {
    # one figure that cannot be drawn does not take the report along
    tryCatch(
      figure_box(registered("picture", b$kind)$draw(verdicts, b$workload, b$metric), 9.2, b$height, b$about),
      honestmargin_error = function(e) tags$p(class = "small", paste0("Not drawn: ", conditionMessage(e)))
    )
  })
  of <- vapply(boxes, `[[`, "", "workload")
  tags$section(tags$h2("Figures"), lapply(shown, function(w) list(tags$h3(w), drawn[of == w])))
}

# workloads that have a counted pass with frames, or with sensors
places_with <- function(x, kind) {
  if (is_study(x)) {
    p <- x$passes
    unique(p$workload[has_trace(x, p, kind) & p$role == "counted" & p$outcome == "ok"])
  }
}

figure_box <- function(figure, width, height, about) {
  htmltools::tags$figure(
    role = "img", `aria-label` = about,
    htmltools::tags$div(class = "scroll", htmltools::HTML(inline_svg(figure, width, height)))
  )
}
