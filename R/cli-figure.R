# The verb `figure`, and `report` beside it: both only pass on what was asked.

cli_figure <- function(files, options) {
  of <- one_word(options$of, "of", figure_kinds, "change")
  format <- one_word(options$format, "format", c("csv", "json", "picture"), "picture")
  size <- figure_size(options$size)
  x <- open_input(files[1], options)
  workload <- split_list(options$workload)
  metric <- split_list(options$metric)
  how <- weigh_options(options)
  if (format != "picture") {
    data <- do.call(figure_data, c(list(x, of, workload, metric), if (!of %in% c("trace", "sensors")) how))
    writeLines(if (format == "csv") csv_lines(data) else json_text(figure = data, version = package_version_text()))
    return(0L)
  }
  if (is.null(options$file)) {
    abort_needed(
      "where shall the figure go?",
      todo = "give --file x.png or x.svg, or --format csv for the numbers"
    )
  }
  figure <- switch(of,
    change = do.call(plot_change, c(list(x, workload, metric), how)),
    passes = do.call(plot_passes, c(list(x, workload, metric), how)),
    trace = plot_trace(x, workload),
    sensors = plot_sensors(x, workload)
  )
  save_figure(figure, options$file, size)
  message("written: ", options$file)
}

cli_report <- function(files, options) {
  path <- empty_to(options$file, "honestmargin-report.html")
  do.call(write_report, c(list(open_input(files[1], options), path), weigh_options(options)))
  message("written: ", path)
}
