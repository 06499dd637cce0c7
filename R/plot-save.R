# Figures as files, at the size in pixels that a chart maker asks for.

#' Save a figure
#'
#' @param figure A ggplot2 object.
#' @param path Ends in `.png`, `.svg` or `.pdf`.
#' @param size `c(width, height)` in pixels. Text grows with the picture, so that
#'   a figure for a video looks like the one on the screen.
#' @return `path`, invisibly.
#' @noRd
save_figure <- function(figure, path, size = c(1280, 800)) {
  # what cannot be drawn is no fault of the disk
  force(figure)
  ending <- assert_picture(path)
  resolution <- figure_resolution(size)
  write_whole(path, function(to) {
    if (ending == "png") {
      ragg::agg_png(to, size[1], size[2], units = "px", res = resolution)
    } else if (ending == "svg") {
      svglite::svglite(to, size[1] / resolution, size[2] / resolution)
    } else {
      grDevices::cairo_pdf(to, size[1] / resolution, size[2] / resolution)
    }
    on.exit(grDevices::dev.off())
    draw_figure(figure)
  })
}

# ggplot2 looks up some names among what R usually attaches; the command starts without that (exec/honestmargin)
draw_figure <- function(figure) {
  usual <- c("stats", "graphics", "grDevices", "utils", "datasets", "methods")
  for (package in setdiff(usual, sub("^package:", "", search()))) attachNamespace(package)
  print(figure)
}

#' @return The ending of the file.
#' @noRd
assert_picture <- function(path) {
  if (is.null(path)) {
    abort_needed(
      "where shall the figure go?",
      todo = "give --file x.png, x.svg or x.pdf, or --format csv for the numbers"
    )
  }
  ending <- tolower(sub(".*[.]", "", basename(path)))
  if (!ending %in% c("png", "svg", "pdf")) {
    abort_usage(
      paste0("a figure is written as .png, .svg or .pdf, not as '", basename(path), "'"),
      todo = "name a file that ends in one of them"
    )
  }
  ending
}

figure_resolution <- function(size) max(40, 132 * min(size[1] / 1280, size[2] / 800))

#' @return The figure as one string of SVG, to stand inside a page.
#' @noRd
inline_svg <- function(figure, width, height) {
  text <- svglite::stringSVG(draw_figure(figure), width = width, height = height, web_fonts = NULL)
  sub("^<\\?xml[^>]*>\\s*", "", text)
}
