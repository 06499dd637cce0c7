# The figures of the report, workload by workload.

#' All figures of a report, drawn at once
#' @param overall From [weigh_overall()], or `NULL`.
#' @return A list of lists: `workload` (`NA` for the one over all of them), `drawn`.
#' @noRd
drawn_figures <- function(verdicts, overall) {
  boxes <- c(boxes_of_workloads(verdicts), overall_box(overall))
  said <- sentences(verdicts)
  drawn <- on_all_cores(boxes, function(b) {
    # one figure that cannot be drawn does not take the report along
    tryCatch(
      figure_box(
        registered("picture", b$kind)$draw(verdicts, b$workload, b$metric, b$context), 9.2, b$height, b$about,
        # what was weighed is said for the figures that show it
        if (b$kind %in% c("change", "passes")) unname(said[startsWith(names(said), b$workload)])
      ),
      honestmargin_error = function(e) htmltools::tags$p(class = "small", paste0("Not drawn: ", conditionMessage(e)))
    )
    # a high one has many panels, which is what takes time
  }, cost = vapply(boxes, `[[`, 1, "height"))
  Map(function(b, d) list(workload = empty_to(b$workload, NA_character_), drawn = d), boxes, drawn)
}

boxes_of_workloads <- function(verdicts) {
  x <- what_was_weighed(verdicts)
  primary <- verdicts[verdicts$role == "primary", , drop = FALSE]
  shown <- utils::head(unique(primary$workload), 12)
  traced <- places_with(x, "frames")
  sensed <- places_with(x, "sensors")
  passes <- passes_of(x)
  ended <- union(passes$workload[fell(passes)], judged_workloads(verdicts))
  unlist(lapply(shown, function(workload) {
    figure_boxes(workload, plain_table(primary)[primary$workload == workload, , drop = FALSE], traced, sensed, ended)
  }), recursive = FALSE)
}

report_figures <- function(figures) {
  tags <- htmltools::tags
  of <- vapply(figures, `[[`, "", "workload")
  many <- length(unique(stats::na.omit(of))) > 3
  tags$section(tags$h2("Figures"), lapply(unique(stats::na.omit(of)), function(w) {
    drawn <- lapply(figures[of %in% w], `[[`, "drawn")
    # of many workloads each is behind its heading
    if (many) tags$details(tags$summary(w), drawn) else list(tags$h3(w), drawn)
  }))
}

# which figures of a workload, and how high each is; what is shown over time is shown for each context
figure_boxes <- function(workload, rows, traced, sensed, ended) {
  contexts <- unique(rows$context)
  metrics <- utils::head(unique(rows$metric), max(1, panel_limit %/% length(contexts)))
  arms <- length(unique(rows$arm))
  valued <- !is.na(rows$arm_value) & !rows$metric %in% names(known_outcome_metrics())
  deep <- ceiling(length(metrics) / 3) * length(contexts)
  box <- function(kind, height, about, metric = NULL, context = NULL) {
    about <- paste(c(paste(about, "in", workload), context), collapse = ", ")
    list(workload = workload, kind = kind, metric = metric, context = context, height = height, about = about)
  }
  over_time <- function(kind, height, about, there) {
    there <- there$context[there$workload == workload]
    lapply(contexts[contexts %in% there], function(context) {
      box(kind, height, about, context = if (!is.na(context)) context)
    })
  }
  c(
    list(box("change", 0.9 + (1.1 + 0.62 * arms) * deep, "change against the baseline", metrics)),
    if (any(valued)) list(box("passes", 0.9 + 2.7 * deep, "every pass", intersect(metrics, rows$metric[valued]))),
    if (workload %in% ended) list(box("outcomes", 1.6 + 0.42 * (arms + 1) * length(contexts), "how each pass ended")),
    over_time("trace", 2.2 + 1.05 * arms, "frame times over time", traced),
    over_time("sensors", 6.4, "sensors over time", sensed)
  )
}

# workloads and contexts that have a counted pass with frames, or with sensors
places_with <- function(x, kind) {
  if (is_study(x)) {
    p <- x$passes
    unique(p[has_trace(x, p, kind) & p$role == "counted" & p$outcome == "ok", c("workload", "context")])
  }
}

#' @param said What it shows, for who cannot see it; `NULL` where nothing says it better than its name.
#' @noRd
figure_box <- function(figure, width, height, about, said = NULL) {
  tags <- htmltools::tags
  tags$figure(
    tags$div(
      class = "scroll", role = "img", `aria-label` = paste(c(about, said), collapse = ". "),
      htmltools::HTML(inline_svg(figure, width, height))
    ),
    tags$figcaption(capital(about))
  )
}

# what is drawn over all workloads stands with its own section
overall_box <- function(found) {
  panels <- if (NROW(found$overall)) nrow(unique(found$overall[c("metric", "arm", "context")])) else 0
  if (panels > 0 && panels <= panel_limit) {
    rows <- max(found$overall$workloads) + 3
    high <- 1.4 + (0.5 + 0.42 * rows) * ceiling(panels / if (panels > 2) 2 else 1)
    list(list(kind = "overall", height = high, about = "change in each workload and over all of them"))
  }
}

over_all_pictures <- function(figures) lapply(Filter(function(f) is.na(f$workload), figures), `[[`, "drawn")
