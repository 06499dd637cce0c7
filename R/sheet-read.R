# From a grid to readings, and the account of every cell.

#' Read a grid
#' @param grid From `new_grid()`. @param said A list: `columns` (named by role), `baseline`, `arm`, `answer`.
#' @return A list: `rows` (readings as text and numbers; `NULL` where something is asked), `arms` (what each is made of,
#'   from `arms_of_sheet()`), `questions`, `account` (class
#'   `honestmargin_account`), `findings`.
#' @noRd
read_grid <- function(grid, said = list()) {
  sheet <- list(grid = grid, kinds = cell_kinds(grid$cells), said = said, questions = list())
  if (NROW(grid$cells) < 2) abort_input("no rows below the heading", grid$source, "one row per pass is needed")
  sheet$head <- find_head(grid, sheet$kinds, said)
  sheet <- part_rows(sheet)
  sheet <- short_rows_out(sheet)
  if (!length(sheet$passes)) abort_input("no row of it is a pass", grid$source, "one row per pass is needed")
  sheet$roles <- roles_of_columns(grid, sheet$head, sheet$kinds, sheet$passes, said)
  sheet <- settle_marks(sheet)
  sheet <- find_layout(sheet, said)
  if (length(sheet$layout)) {
    for (step in list(settle_sections, settle_columns, settle_sums, fill_merged)) {
      sheet <- step(sheet)
    }
    sheet$turn <- order_by_times(sheet)
    long <- if (!length(sheet$questions)) long_rows(sheet)
    if (!is.null(long)) {
      read <- numbers_of_rows(long, sheet)
      repeated <- settle_repeats(with_battery(read$rows, sheet), sheet)
      sheet$questions <- c(sheet$questions, read$questions, repeated$questions, ask_plausible(read$rows, sheet))
      rows <- repeated$rows
    }
  }
  open <- length(sheet$questions) > 0
  list(
    rows = if (!open) rows, arms = if (!open) arms_of_sheet(sheet, rows), questions = sheet$questions,
    account = account_of(sheet, if (!open) rows),
    findings = findings_of_sheet(sheet, if (!open) rows)
  )
}

#' The decimal mark of the whole table
#' @noRd
settle_marks <- function(sheet) {
  roles <- sheet$roles
  numbers <- which(roles$type %in% c("number", "mixed") & !roles$role %in% setdiff(column_roles, c(
    "value", "measured", "seconds", "minutes", "hours"
  )))
  said <- answered(sheet$said, "marks")
  columns <- lapply(numbers, function(j) {
    sheet$grid$cells[sheet$body, j][sheet$kinds[sheet$body, j] == "number"]
  })
  sheet$mark <- if (sheet$grid$typed) "point" else if (!is.null(said)) said else decimal_mark(columns)
  if (sheet$mark %in% c("torn", "unsure")) {
    cells <- unlist(columns)
    proof <- mark_proof_of(cells)
    odd <- unique(c(cells[proof == "open"], cells[proof == "point"][1], cells[proof == "comma"][1]))
    odd <- utils::head(odd[!is.na(odd)], 2)
    sheet <- asking(sheet, new_question(
      "marks", paste0("how are numbers written: ", paste(odd, collapse = " and ")),
      list(
        answer_choice("marks", "point", paste("a point is the decimal mark:", odd[1], "is", shown_as(odd[1], "point"))),
        answer_choice("marks", "comma", paste("a comma is the decimal mark:", odd[1], "is", shown_as(odd[1], "comma")))
      )
    ))
    sheet$mark <- "point"
  }
  sheet
}

shown_as <- function(text, mark) {
  value <- read_numbers(text, mark)$value
  if (is.na(value)) "no number" else show_exact(value)
}

#' One row for each value, with what says which it is
#' @noRd
long_rows <- function(sheet) {
  roles <- sheet$roles
  cells <- empty_to(sheet$filled, sheet$grid$cells)
  values <- which(roles$role %in% c("value", "measured"))
  at <- sheet$passes
  rows <- row_parts(sheet, cells, at)
  if (!length(values)) {
    if (!any(roles$role %in% c("outcome", "status", "battery_end"))) {
      abort_input(
        "no column holds a number that was measured", sheet$grid$source, "add a column value, or one column per metric"
      )
    }
    bare <- c(rows, list(text = rep(NA_character_, length(at)), .row = at, .column = rep(NA_integer_, length(at))))
    return(if ("battery_end" %in% roles$role) with_passes(bare, sheet) else bare)
  }
  parts <- lapply(values, function(j) column_values(sheet, rows, cells, at, j))
  out <- stack_columns(parts)
  # a number alone has no name of its own, but for our own column
  own <- length(values) == 1 && is.na(roles$arm[values]) && is.na(roles$pass[values]) && roles$role[values] == "value"
  if (is.null(out$metric) && !(own && (identical(tolower(roles$name[values]), "value") || is.na(roles$name[values])))) {
    named <- own && !roles$by[values] %in% "declared"
    out$metric <- rep(
      if (named) unit_said(roles$name[values])$name else if (own) "score" else "value",
      length(out$.row)
    )
  }
  with_passes(units_in_names(out), sheet)
}

# the values of one column, with what stands beside and above them
column_values <- function(sheet, rows, cells, at, j) {
  roles <- sheet$roles
  said <- unit_said(roles$name[j])
  whole <- function(text) rep(text, length(at))
  if (!is.na(roles$arm[j])) rows$arm <- whole(roles$arm[j])
  if (!is.na(roles$pass[j])) rows$.number <- whole(roles$pass[j])
  for (as in intersect(c("metric", "workload", "context"), names(roles))) {
    if (!is.na(roles[[as]][j])) rows[[as]] <- whole(roles[[as]][j])
  }
  named <- roles$role[j] == "measured" && is.null(rows$metric)
  if (named) rows$metric <- whole(if (is.na(roles$name[j])) "value" else metric_name(sheet, j))
  in_heading <- is.na(roles$arm[j]) && !is.na(said$unit) && said$inside
  if (is.null(rows$unit) && (named || in_heading)) rows$unit <- whole(said$unit)
  c(rows, list(text = cells[at, j], .row = at, .column = rep(j, length(at))))
}

# metrics that stand in rows are called as others are in headings
units_in_names <- function(out) {
  if (is.null(out$metric)) {
    return(out)
  }
  for (name in setdiff(unique(out$metric), c(NA, captured_ids()))) {
    said <- unit_said(name)
    here <- which(out$metric == name)
    if (is.na(said$unit)) next
    out$unit <- empty_to(out$unit, rep(NA_character_, length(out$metric)))
    out$unit[here] <- ifelse(is.na(out$unit[here]), said$unit, out$unit[here])
    if (said$inside) out$metric[here] <- said$name
  }
  out
}

# "score (easy)" beside "score (hard)" keep their brackets
metric_name <- function(sheet, j) {
  measured <- which(sheet$roles$role %in% "measured")
  names <- vapply(sheet$roles$name[measured], function(n) unit_said(n)$name, "")
  own <- unit_said(sheet$roles$name[j])$name
  twice <- sum(names == own & (is.na(sheet$roles$arm[measured]) |
    sheet$roles$arm[measured] %in% sheet$roles$arm[j])) > 1
  if (twice) sheet$roles$name[j] else own
}

# what stands beside the numbers of each row
row_parts <- function(sheet, cells, at) {
  roles <- sheet$roles
  keys <- which(roles$role %in% setdiff(column_roles, c(
    "value", "measured", "note", "when", "status", "valid", "excluded", "minutes", "hours", "warm_up", "attribute"
  )))
  rows <- stats::setNames(lapply(keys, function(j) cells[at, j]), roles$role[keys])
  of <- match(at, sheet$body)
  if (sheet$layout$kind == "sections") rows$arm <- sheet$section[of]
  if (sheet$layout$kind == "given") rows$arm <- rep(sheet$said$arm, length(at))
  if (sheet$layout$kind == "parts") {
    split <- split_label(rows$arm)
    rows$arm <- split$arm
    rows$.number <- split$pass
  }
  if (!is.null(sheet$titled)) rows[[sheet$titled$as]] <- sheet$titled$title[of]
  if (!is.null(sheet$turn)) rows$order <- as.character(sheet$turn)
  seconds <- which(roles$role %in% c("minutes", "hours"))
  if (length(seconds) && is.null(rows$seconds)) {
    size <- c(minutes = 60, hours = 3600)[[roles$role[seconds[1]]]]
    rows$seconds <- show_exact(size * read_numbers(cells[at, seconds[1]], sheet$mark)$value, 15)
  }
  rows
}

#' The text of numbers as numbers; how a pass ended stands in place of one
#' @noRd
numbers_of_rows <- function(long, sheet) {
  rows <- as.data.frame(long, stringsAsFactors = FALSE)
  rows$.line <- sheet$grid$line[rows$.row]
  text <- rows$text
  read <- read_numbers(text, sheet$mark)
  nothing <- is.na(text) | text %in% words_of_nothing
  end <- end_of_word(text)
  # a dash is nothing, "crash" an end
  end[nothing] <- NA
  odd <- which(!read$ok & !nothing & is.na(end))
  questions <- list()
  if (length(odd)) {
    said <- answered(sheet$said, "text")
    if (is.null(said)) {
      questions <- list(new_question(
        "text", paste0("'", substr(text[odd[1]], 1, 40), "' stands where a number is due"),
        list(
          answer_choice("text", "empty", "the pass gave no number"), answer_choice("text", "out", "leave that row out")
        ), rows$.row[odd]
      ))
    }
  }
  rows$value <- as.numeric(ifelse(read$ok, read$value, NA))
  told <- read$ok & !is.na(read$unit)
  unit <- empty_to(rows$unit, rep(NA_character_, nrow(rows)))
  bare <- read$ok & is.na(read$unit) & !read$clock & paste(rows$metric) %in% paste(rows$metric)[told]
  torn <- which(told & !is.na(unit) & plain_unit(unit) != plain_unit(read$unit))
  if (any(bare) && !length(torn) && !identical(answered(sheet$said, "unit"), "right")) {
    questions <- c(questions, list(new_question(
      "unit", paste0("'", text[told][1], "' has a unit, and '", text[bare][1], "' has none"),
      list(answer_choice("unit", "right", "both have the same")), rows$.row[bare]
    )))
  }
  if (length(torn) && !identical(answered(sheet$said, "unit"), "right")) {
    questions <- c(questions, list(new_question(
      "unit", paste0("'", text[torn[1]], "' stands in a column of ", unit[torn[1]]),
      list(answer_choice("unit", "right", paste("it is", unit[torn[1]], "all the same"))), rows$.row[torn]
    )))
  }
  spread <- read$spread & !nothing
  if (any(spread) && is.null(answered(sheet$said, "spread")) && !anyDuplicated(rows[spread, intersect(c(
    "arm", "workload", "context", "metric"
  ), names(rows)), drop = FALSE])) {
    questions <- c(questions, list(new_question(
      "spread", paste0("'", text[spread][1], "' is a mean with its spread, which is no pass (see honestmargin claim)"),
      list(answer_choice("spread", "pass", "it is the number of one pass")), rows$.row[spread]
    )))
  }
  unit[told & is.na(unit)] <- read$unit[told & is.na(unit)]
  clocked <- read$ok & read$clock
  # "min:s", "h:mm:ss or m:ss"
  unit[clocked & (is.na(unit) | grepl("^[hmin: or]*:ss?[hms: or]*$", tolower(unit)))] <- "s"
  rows$unit <- unit
  rows <- ends_of_rows(rows, end, sheet)
  if (identical(answered(sheet$said, "text"), "out")) rows <- rows[!rows$.row %in% rows$.row[odd], , drop = FALSE]
  rows <- units_alike(rows)
  rows$text <- NULL
  list(rows = rows, questions = questions)
}

# a pass without a number has the unit of the others
units_alike <- function(rows) {
  metric <- empty_to(rows$metric, rep("score", nrow(rows)))
  for (m in unique(metric)) {
    here <- metric == m
    unit <- unique(stats::na.omit(rows$unit[here]))
    if (length(unit) == 1) rows$unit[here & is.na(rows$unit)] <- unit
  }
  rows
}

#' What each pass used of a battery, from its level before and after
#'
#' The level is read in whole percent, so the reading may be off by one in all: `battery_per_hour` knows how much that
#' is for as long as the pass took.
#' @noRd
with_battery <- function(rows, sheet) {
  said <- c("battery_start", "battery_end") %in% names(rows)
  if (!any(said)) {
    return(rows)
  }
  if (!all(said) || is.null(rows$seconds)) {
    abort_input(
      "a battery needs its level before and after, and how long it took", sheet$grid$source,
      "--columns battery_start=HEADING,battery_end=HEADING, and a column minutes, hours or seconds"
    )
  }
  first <- rows[!duplicated(rows$.row), , drop = FALSE]
  number <- function(text) read_numbers(sub(" *%$", "", text), sheet$mark)$value
  levels <- list(number(first$battery_start), number(first$battery_end))
  hours <- as.numeric(first$seconds) / 3600
  odd <- which(levels[[1]] < levels[[2]] | levels[[1]] > 100 | levels[[2]] < 0 | hours <= 0)
  if (length(odd)) {
    abort_input(
      "the level of a battery cannot rise, or lie outside 0 to 100 %, in a pass",
      c(sheet$grid$source, paste(sheet$grid$row, sheet$grid$line[first$.row[odd[1]]])),
      "see that start and end are not swapped"
    )
  }
  first$value <- (levels[[1]] - levels[[2]]) / hours
  first[c("metric", "unit", "better")] <- list("battery_per_hour", "%/h", "lower")
  first$.column <- which(sheet$roles$role %in% "battery_end")[1]
  # rows that hold nothing else were there for this
  stack_rows(list(rows[!is.na(rows$.column), , drop = FALSE], first))
}
