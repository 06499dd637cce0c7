# The verb `choose`: the first value that is good enough, the lowest near the best, and what a gain costs.

cli_choose <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  asked <- intersect(c("floor", "near_best", "cost"), given_options(options))
  if (length(asked) != 1) {
    abort_needed(if (length(asked)) "choose by one thing at a time" else "choose by what?",
      todo = "give one of --floor METRIC=LEVEL, --near-best PERCENT, --cost METRIC|ATTRIBUTE"
    )
  }
  others <- Filter(function(questions) !asked %in% questions, choosing_options)
  assert_no_idle(options, files[1], names(others), lapply(others, function(questions) {
    paste(option_word(questions), collapse = " and ")
  }))
  x <- open_input(files[1], options)
  switch(asked,
    floor = show_found(choose_by_floor(x, options), "floors", format, x),
    near_best = show_found(choose_near_best(x, options), "near", format, x),
    cost = choose_by_cost(x, options, format)
  )
}

# which question each is for
choosing_options <- list(
  next_pass = "floor", prefer = c("floor", "near_best"), metric = c("near_best", "cost"), baseline = "cost",
  worth = "cost", power = "cost", hours = "cost", kwh = "cost"
)

choose_by_floor <- function(x, options) {
  floor <- named_numbers(options$floor, "floor")
  if (is.null(names(floor))) abort_usage("--floor: expected METRIC=LEVEL", todo = "--floor low1_quantile=35")
  weigh_floors(x, floor,
    next_pass = isTRUE(options$next_pass), prefer = split_list(options$prefer),
    confidence = confidence_share(options$confidence)
  )
}

choose_near_best <- function(x, options) {
  weigh_near(x, named_numbers(options$near_best, "near-best"),
    prefer = split_list(options$prefer), primary = split_list(options$metric),
    confidence = confidence_share(options$confidence)
  )
}

choose_by_cost <- function(x, options, format) {
  metric <- empty_to(split_list(options$metric), wanted_metrics(x, options$cost))[1]
  number <- function(name) {
    text <- options[[gsub("-", "_", name)]]
    if (!is.null(text)) named_numbers(text, name)
  }
  found <- weigh_cost(x, metric, options$cost,
    baseline = options$baseline, worth = named_numbers(options$worth, "worth"),
    confidence = confidence_share(options$confidence), power = options$power, hours = number("hours"),
    kwh = number("kwh")
  )
  if (format == "json") {
    writeLines(do.call(json_text, c(unclass(found)[c("ratio", "arms", "running")], version = package_version_text())))
    return(0L)
  }
  if (format == "csv") writeLines(csv_lines(found$arms)) else print(found)
  show_read(x, format)
  0L
}

register("verb", "choose",
  takes = "FILE|STUDY", files = c(1, 1), run = cli_choose,
  examples = c(
    "choose my-study --floor low1_quantile=60",
    "choose my-study --near-best 2"
  ),
  about = "The first arm that is good enough, the lowest near the best, and what a gain costs.",
  options = function() {
    c(
      list(
        floor = option_text("M=L,M=L", "the first arm that keeps these levels in every workload"),
        `next-pass` = option_flag("with --floor: the next single pass must keep them too, not the mean alone"),
        `near-best` = option_text("P", "the first arm that is within so many percent of the best (or METRIC=P)"),
        prefer = option_text("A|V,V", "order of preference: an attribute, the smallest first (price), or arms"),
        cost = option_text("M|A", "metric per cost: another metric (watts), or an attribute (price)"),
        power = option_text("M", "with --cost: the metric in W for what running costs"),
        hours = option_text("N", "with --cost: hours a day that it runs"),
        kwh = option_text("N", "with --cost: price of one kWh")
      ),
      input_options(), shared_options("metric", "baseline", "worth", "confidence", "format")
    )
  }, rank = 17.1
)
