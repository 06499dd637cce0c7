# What a report carries along, so that whoever gets it can weigh the same passes anew.

carried_form <- 1L

#' All that was weighed, as text
#'
#' @param verdicts From [weigh()].
#' @return A list: `readings` (lines of CSV: `row`, `pass`, `part`, `segment`, `metric`, `value`), `rest` (JSON: the
#'   plan, the passes by `row`, the metrics, what was found, and how it was asked).
#' @noRd
carried_texts <- function(verdicts) {
  # with their roles as they were given, so that it can be asked otherwise
  x <- attr(verdicts, "weighed")
  readings <- plain_table(readings_of(x))
  of_metric <- c("metric", "unit", "better", "scale")
  of_row <- setdiff(names(readings), c(of_metric, "segment", "value"))
  key <- do.call(paste, c(readings[of_row], sep = "\r"))
  row <- match(key, unique(key))
  described <- unique(readings[of_metric])
  study <- is_study(x)
  rest <- list(
    form = carried_form, method = judging_method,
    rows = table_as_text(readings[!duplicated(key), of_row, drop = FALSE]),
    metrics = table_as_text(described), how = how_as_text(attr(verdicts, "how")),
    findings = table_as_text(plain_table(if (study) x$findings else attr(x, "findings"))),
    plan = if (study) attr(x$plan, "text"), passes = if (study) table_as_text(x$passes),
    ceilings = if (study && NROW(x$ceilings)) table_as_text(x$ceilings),
    limits = if (study && NROW(x$limits)) table_as_text(x$limits),
    sealed = if (study) x$sealed[c("at", "hash", "batch", "method")]
  )
  at <- match(do.call(paste, c(readings[of_metric], sep = "\r")), do.call(paste, c(described, sep = "\r")))
  list(
    readings = csv_lines(exact_table(list2DF(c(
      list(row = row), readings[c("pass", "part", "segment", "metric")],
      if (anyDuplicated(described$metric)) list(as = at), readings["value"]
    )))),
    rest = as.character(jsonlite::toJSON(Filter(length, rest), auto_unbox = TRUE, na = "null", digits = NA))
  )
}

# with the type of each column, and numbers in as many digits as they need
table_as_text <- function(table) {
  table <- plain_table(table)
  types <- vapply(table, typeof, "")
  lists <- types == "list"
  table[lists] <- lapply(table[lists], function(v) vapply(v, detail_json, ""))
  list(types = as.list(types), columns = lapply(as.list(exact_table(table)), function(v) I(as.character(v))))
}

table_from_text <- function(text) {
  columns <- lapply(stats::setNames(nm = names(text$types)), function(name) {
    v <- as.character(unlist(lapply(text$columns[[name]], empty_to, NA_character_)))
    switch(text$types[[name]],
      double = as.numeric(v),
      integer = as.integer(v),
      logical = as.logical(v),
      list = lapply(v, function(one) jsonlite::fromJSON(one, simplifyDataFrame = FALSE)),
      v
    )
  })
  list2DF(columns)
}

how_as_text <- function(how) {
  if (is.data.frame(how$noise)) how$noise <- table_as_text(how$noise)
  if (length(how$worth)) how$worth <- as.list(how$worth)
  Filter(length, how)
}

how_from_text <- function(how) {
  if (is.list(how$noise)) how$noise <- table_from_text(how$noise)
  # JSON knows no difference between 2 and 2.0
  if (length(how$worth)) how$worth <- vapply(how$worth, as.numeric, 1)
  if (length(how$confidence)) how$confidence <- as.numeric(how$confidence)
  how$primary <- unlist(how$primary)
  how
}

#' Read back what a report carries
#'
#' @param path A report that [write_report()] wrote (HTML).
#' @param ... Not used.
#' @return A study, or a readings table where the report was made of one. [weigh()] gives the verdicts of the report
#'   again, with the options it was made with unless others are given. It has no traces, so frames and sensors cannot be
#'   drawn; and nothing proves that the file was not altered since.
#' @section Errors: `honestmargin_error_input` for a file that is no report, or carries no readings.
#' @export
#' @examples
#' scores <- data.frame(arm = rep(c("off", "on"), 4), value = c(100, 104, 101, 105, 99, 103, 100, 104))
#' path <- write_report(scores, tempfile(fileext = ".html"), baseline = "off", worth = 2)
#' weigh(read_report(path))$verdict
read_report <- function(path, ...) {
  assert_no_dots(...)
  checkmate::assert_string(path)
  if (!file.exists(path)) abort_input("no such file", path, "check the name")
  lines <- readLines(path, warn = FALSE, encoding = "UTF-8")
  block <- function(name) {
    from <- which(endsWith(lines, paste0("id=\"carried-", name, "\">")))
    to <- if (length(from)) from[1] + which(lines[-seq_len(from[1])] == "</script>")[1] - 1
    if (length(from) && !is.na(to) && to > from[1]) lines[(from[1] + 1):to]
  }
  readings <- block("readings")
  rest <- tryCatch(
    jsonlite::fromJSON(paste(block("study"), collapse = "\n"), simplifyVector = FALSE),
    error = function(e) NULL
  )
  if (is.null(readings) || is.null(rest)) {
    abort_input("no readings are carried in this file", path, "name a report that this tool wrote, whole as it was")
  }
  if (rest$form > carried_form) {
    abort_input("this report is of a newer version", path, "install the newer version of honestmargin")
  }
  altered <- function(e) {
    if (inherits(e, "honestmargin_error")) stop(e)
    abort_input("what it carries is not as it was written", path, "ask for the report again, whole as it was")
  }
  tryCatch(
    {
      back <- carried_back(utils::read.csv(
        text = unescape_carried(readings), colClasses = "character", na.strings = "", check.names = FALSE
      ), rest, path)
      assert_carried(readings_of(back), path)
      back
    },
    error = altered, warning = altered
  )
}

# whoever altered a report may have put in anything
assert_carried <- function(readings, path) {
  rows <- plain_table(readings)
  assert_reading_values(rows, function(i) c(path, paste("reading", some_of(i))))
  assert_word(rows$scale, c("percent", "absolute"), "scale", function(i) c(path, paste("reading", some_of(i))))
  if (anyNA(rows$metric) || anyNA(rows$workload) || anyNA(rows$pass)) {
    abort_input("a reading has no pass, workload or metric", path, "ask for the report again, whole as it was")
  }
}

# in a script of a page "<" could end it
escape_carried <- function(text) gsub("<", "&lt;", gsub("&", "&amp;", text, fixed = TRUE), fixed = TRUE)
unescape_carried <- function(text) gsub("&amp;", "&", gsub("&lt;", "<", text, fixed = TRUE), fixed = TRUE)

carried_back <- function(values, rest, path) {
  rows <- table_from_text(rest$rows)
  metrics <- table_from_text(rest$metrics)
  at <- if (is.null(values$as)) match(values$metric, metrics$metric) else as.integer(values$as)
  readings <- cbind(
    rows[as.integer(values$row), , drop = FALSE],
    segment = as.character(values$segment), metrics[at, , drop = FALSE], value = as.numeric(values$value)
  )
  rownames(readings) <- NULL
  found <- bind_findings(
    do.call(findings_table, list(as.list(table_from_text(rest$findings)))),
    new_finding("note", "from_report", file = basename(path))
  )
  readings <- structure(readings[c(reading_columns, "scale")],
    findings = if (is.null(rest$plan)) found else no_findings(), class = c("honestmargin_readings", "data.frame")
  )
  how <- how_from_text(rest$how)
  # a report of before comparisons were steadied by other cells gives its own verdicts again
  if (is.null(rest$method)) how$own_noise <- TRUE
  if (is.null(rest$plan)) {
    return(structure(readings, carried = how))
  }
  carried_study(rest, readings, found, how, path)
}

carried_study <- function(rest, readings, found, how, path) {
  table <- function(name) if (!is.null(rest[[name]])) table_from_text(rest[[name]])
  passes <- table("passes")
  plan <- parse_plan(rest$plan, path)
  if (is_search(plan)) plan <- compared_plan(plan, passes$arm)
  study <- new_study(
    plan, passes, readings, found, table("ceilings"), table("limits"),
    data.frame(pass = character(), kind = character()), structure(list(folder = path), class = "honestmargin_store"),
    rest$sealed, NULL
  )
  structure(study, carried = how)
}

#' What a report says of how its passes were weighed, for what the call leaves open
#'
#' @param given Arguments of [weigh()]. @return They, filled in.
#' @noRd
fill_carried <- function(x, given) {
  how <- attr(x, "carried")
  # a seal holds the plan's own baseline, worth and family, and what differs from it is told
  open <- if (is_study(x) && !is.null(x$sealed)) {
    c("steady", "noise", "no_limiter", "looks", "against", "setting_limits", "own_noise")
  } else {
    names(given)
  }
  usual <- formals(weigh)
  for (name in intersect(open, names(how))) {
    if (is.null(given[[name]]) || identical(given[[name]], usual[[name]])) given[[name]] <- how[[name]]
  }
  given
}
