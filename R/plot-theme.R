# How our figures look: one ground, few lines, colours that stay apart for
# colour-blind readers and in grey, where shape and words carry the same.

grounds <- list(
  light = c(
    gain = "#0072B2", loss = "#C2410C", negligible = "#3F7D5C", unclear = "#5B5B5B", none = "#5B5B5B",
    worth = "#E9E4D4", noise = "#C9CED6", text = "#1F2328", small = "#4A4F55", grid = "#ECECEC", ground = "#FFFFFF",
    link = "#B9C0C8", pass = "#7A828C", spikes = "#8BA6C4", start = "#F3DFB8", mark = "#8C6D1F", others = "#C0641A"
  ),
  dark = c(
    gain = "#58B4EE", loss = "#F2834A", negligible = "#7CC79C", unclear = "#B4BAC2", none = "#B4BAC2",
    worth = "#3A382F", noise = "#4C545E", text = "#E8EAED", small = "#B4BAC2", grid = "#30343A", ground = "#16191D",
    link = "#59616B", pass = "#A2AAB4", spikes = "#4F6F94", start = "#564A2A", mark = "#D9B45A", others = "#F0A050"
  )
)

#' A colour by what it is for, on the ground that is asked for: `options(honestmargin.ground = "dark")`
#' @param name One or several. @return Of several, named.
#' @noRd
ink <- function(name) {
  of_ground <- grounds[[getOption("honestmargin.ground", "light")]]
  if (is.null(of_ground)) abort_usage("options(honestmargin.ground) is no ground of figures", todo = "light or dark")
  if (length(name) == 1) of_ground[[name]] else of_ground[name]
}

verdict_family <- function(verdict) {
  word <- ifelse(verdict == "does not hold", "loss", sub("^clear ", "", verdict))
  ifelse(word %in% c("gain", "loss", "negligible", "unclear"), word, "none")
}

figure_theme <- function(base = 11) {
  ggplot2::theme_minimal(base_size = base) + ggplot2::theme(
    text = ggplot2::element_text(colour = ink("text")),
    plot.title = ggplot2::element_text(face = "bold", size = ggplot2::rel(1.25)),
    plot.title.position = "plot", plot.caption.position = "plot",
    plot.subtitle = ggplot2::element_text(
      colour = ink("small"), size = ggplot2::rel(0.9), margin = ggplot2::margin(b = 8)
    ),
    plot.caption = ggplot2::element_text(colour = ink("small"), hjust = 0, size = ggplot2::rel(0.8)),
    strip.text = ggplot2::element_text(face = "bold", hjust = 0, size = ggplot2::rel(1), colour = ink("text")),
    axis.text = ggplot2::element_text(colour = ink("text")),
    panel.grid.minor = ggplot2::element_blank(),
    panel.grid.major = ggplot2::element_line(colour = ink("grid"), linewidth = 0.4),
    panel.spacing = ggplot2::unit(1.1, "lines"), legend.position = "none",
    plot.background = ggplot2::element_rect(fill = ink("ground"), colour = NA),
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
marked_arms <- function(arms, labels, marks) {
  mark <- unname(marks[as.character(arms)])
  name <- arm_names(arms, labels)
  if (is.null(mark)) name else ifelse(is.na(mark), name, paste0(name, "\n", gsub("(.{12}\\S*) ", "\\1\n", mark)))
}
