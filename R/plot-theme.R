# How our figures look: white ground, few lines, colours that stay apart for
# colour-blind readers and in grey, where shape and words carry the same.

ink <- c(
  gain = "#0072B2", loss = "#C2410C", negligible = "#3F7D5C", unclear = "#5B5B5B", none = "#5B5B5B",
  worth = "#E9E4D4", noise = "#C9CED6", text = "#1F2328"
)

verdict_family <- function(verdict) {
  word <- ifelse(verdict == "does not hold", "loss", sub("^clear ", "", verdict))
  ifelse(word %in% c("gain", "loss", "negligible", "unclear"), word, "none")
}

figure_theme <- function(base = 11) {
  ggplot2::theme_minimal(base_size = base) + ggplot2::theme(
    text = ggplot2::element_text(colour = ink[["text"]]),
    plot.title = ggplot2::element_text(face = "bold", size = ggplot2::rel(1.25)),
    plot.title.position = "plot", plot.caption.position = "plot",
    plot.subtitle = ggplot2::element_text(
      colour = "#4A4F55", size = ggplot2::rel(0.9), margin = ggplot2::margin(b = 8)
    ),
    plot.caption = ggplot2::element_text(colour = "#4A4F55", hjust = 0, size = ggplot2::rel(0.8)),
    strip.text = ggplot2::element_text(face = "bold", hjust = 0, size = ggplot2::rel(1)),
    axis.text = ggplot2::element_text(colour = ink[["text"]]),
    panel.grid.minor = ggplot2::element_blank(),
    panel.grid.major = ggplot2::element_line(colour = "#ECECEC", linewidth = 0.4),
    panel.spacing = ggplot2::unit(1.1, "lines"), legend.position = "none",
    plot.background = ggplot2::element_rect(fill = "white", colour = NA),
    plot.margin = ggplot2::margin(12, 16, 10, 12)
  )
}

panel_titles <- function(data, suffix = "") {
  place <- place_names(data)
  title <- paste0(if (length(unique(place)) > 1) paste0(place, ": "), data$label, suffix)
  factor(title, unique(title))
}

panel_limit <- 12

assert_panels <- function(panel) {
  if (nlevels(panel) > panel_limit) {
    abort_needed(paste0(nlevels(panel), " panels do not fit one figure"),
      todo = paste0("choose with --workload and --metric (in R: workload =, metric =); up to ", panel_limit, " fit")
    )
  }
  panel
}

panel_columns <- function(data) {
  min(
    3, max(1, max(tapply(data$metric, place_names(data), function(m) length(unique(m)))))
  )
}

#' Arms as an axis names them: one that failed anywhere says so
#' @noRd
marked_arms <- function(arms, told, marks) {
  mark <- unname(marks[as.character(arms)])
  name <- arm_names(arms, told)
  if (is.null(mark)) name else ifelse(is.na(mark), name, paste0(name, "\n", gsub("(.{12}\\S*) ", "\\1\n", mark)))
}
