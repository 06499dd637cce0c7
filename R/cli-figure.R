# The verb `figure`, and `report` beside it: both only pass on what was asked.

cli_figure <- function(files, options) {
  of <- one_word(options$of, "of", names(registered("figure")), "change")
  format <- one_word(options$format, "format", c("csv", "json", "picture"), "picture")
  size <- figure_size(options$size)
  assert_no_idle(options, files[1], if (of != "cost") "cost", c(cost = "--of cost"))
  # what cannot be written is said before the study is read
  if (format == "picture") assert_picture(options$file)
  x <- if (of == "search") read_search(files[1]) else open_input(files[1], options)
  workload <- split_list(options$workload)
  metric <- split_list(options$metric)
  context <- split_list(options$context)
  how <- weigh_options(options)
  # what is drawn of verdicts is weighed as the verb weigh does
  kind <- registered("figure", of)
  if (isTRUE(kind$stepwise)) options$against <- empty_to(options$against, "previous")
  if (isTRUE(kind$weighs) && !(isTRUE(kind$of_one_arm) && has_one_arm(x))) {
    x <- weigh_input(files[1], options, x)
    how <- list()
  }
  if (!is.null(options$pass)) {
    if (!isTRUE(kind$of_passes)) {
      abort_usage("--pass is for --of trace and --of check", todo = "figure STUDY --of check --pass p007,p012")
    }
    how$pass <- split_list(options$pass)
  }
  # what is not weighed as weigh() does takes only some of its options
  takes <- kind$takes
  if (!is.null(takes)) how <- c(how[names(how) %in% takes], if ("cost" %in% takes) list(cost = options$cost))
  if (format != "picture") {
    data <- do.call(figure_data, c(list(x, of, workload, metric, context), how))
    writeLines(if (format == "csv") csv_lines(data) else json_text(figure = data, version = package_version_text()))
    return(0L)
  }
  if (isTRUE(options$dark)) withr::local_options(honestmargin.ground = "dark")
  draw <- registered("picture", of)$draw
  save_figure(do.call(draw, c(list(x, workload, metric, context), how)), options$file, size)
  tell_user("written: ", options$file)
}

cli_report <- function(files, options) {
  format <- one_word(options$format, "format", c("html", "md", "pdf"), "html")
  path <- empty_to(options$file, paste0("honestmargin-report.", format))
  if (!is.null(options$format) && report_form(path) != format) {
    abort_usage(paste0("--format ", format, " and --file ", path, " do not agree"), todo = "leave one of them out")
  }
  search <- open_search(files[1])
  x <- if (is.null(search) && !all_batches(files[1], options)) open_input(files[1], options)
  as_it_is <- !is.null(x) && (has_one_arm(x) || (is_study(x) && is_together(x$plan)))
  write_report(empty_to(search, if (as_it_is) x else weigh_input(files[1], options, x)), path)
  tell_user("written: ", path)
}

# a search that has nothing to weigh yet
open_search <- function(path) {
  if (dir.exists(path)) {
    search <- tryCatch(read_search(path), honestmargin_error = function(e) NULL)
    if (!is.null(search) && !"counted" %in% search$steps$role) search
  }
}

register("verb", "figure",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_figure,
  examples = c(
    "figure my-study --of change --file change.png",
    "figure my-study --of passes --workload harbour --format csv"
  ),
  about = "Draw a figure, or print the numbers behind it.",
  options = function() {
    c(
      weighing_options(),
      list(
        of = option_text(
          "KIND",
          paste(
            "change, overall, passes, steps, loops, frames, trace, drops, check, sensors, outcomes, search, cost",
            "or screen (default change)"
          )
        ),
        cost = option_text("M|A", "with --of cost: a metric, or an attribute of the arms"),
        pass = option_text("P,P", "with --of trace or check: these passes"),
        size = option_text("WxH", "pixels (default 1280x800)"),
        dark = option_flag("light on a dark ground")
      ),
      shared_options("workload", "metric", "context", "file", "format")
    )
  },
  rank = 18
)
register("verb", "report",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_report,
  examples = c(
    "report my-study --file report.html",
    "report my-study --format md"
  ),
  about = "Write the report: one HTML file to send, or Markdown, or PDF.",
  options = function() {
    c(weighing_options(), shared_options("file"), list(
      format = option_text("F", "html, md or pdf (default by the file's ending, else html)", "-f")
    ))
  }, rank = 19
)
