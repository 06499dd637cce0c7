# The verb `search`: how far a search is, and what the tester says to it.

cli_search <- function(files, options) {
  steer <- list(skip = split_list(options$skip), add = split_list(options$add), try = split_list(options$try))
  stop <- if (isTRUE(options$stop)) TRUE else if (isTRUE(options$go_on)) FALSE
  if (isTRUE(options$stop) && isTRUE(options$go_on)) abort_usage("--stop and --go-on at once", todo = "choose one")
  x <- if (length(unlist(steer)) || !is.null(stop)) {
    do.call(steer_search, c(list(files[1]), steer, list(stop = stop)))
  } else {
    read_search(files[1])
  }
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  switch(format,
    table = print(x),
    csv = writeLines(csv_lines(search_table(x))),
    json = writeLines(json_text(
      now = x$now, values = search_table(x), steps = x$steps, version = package_version_text()
    ))
  )
  0L
}

register("verb", "search",
  takes = "STUDY", files = c(1, 1), run = cli_search,
  examples = c(
    "search my-study",
    "search my-study --skip 175 --add 190"
  ),
  about = "Show or steer a search.",
  options = function() {
    c(
      list(
        skip = option_text("V,V", "pass over these values"),
        add = option_text("V,V", "put these values on the ladder"),
        try = option_text("V,V", "run these next, whatever is known of them"),
        stop = option_flag("end the search here"), `go-on` = option_flag("go on with a search that was stopped")
      ),
      shared_options("format")
    )
  },
  rank = 5.5
)
