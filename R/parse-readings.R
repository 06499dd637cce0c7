# Scores and other readings typed or exported elsewhere: any table as a grid, and the grid as readings.

#' Read a table of readings
#'
#' Reads a table as people and programs keep it. Each cell of it has one fate, which [what_was_read()] shows: a value,
#' a key that says which value it is, a heading, left out (with the reason), or asked about. What a column is follows
#' from what is declared (`columns`), from its heading, or, for few things that leave no doubt, from its cells; whatever
#' may be read in two ways is asked, all at once.
#'
#' @param path Path of a delimited text file (comma, semicolon or tab), of a spreadsheet (`.xlsx`, `.xls` where the
#'   package readxl is installed, `.ods` with readODS; its first sheet that holds any rows), of JSON (an array of
#'   records, a record per line, lists by arm), or a data frame. Several paths: each is the table of one
#'   arm, which is called as the file is; of results of passes (JSON, or texts that hold names and numbers a line each,
#'   one row below a heading, a number) each is a pass, known by its name as in [read_logs()].
#' @param ... Not used.
#' @param better Named character vector, `"higher"`, `"lower"` or `"none"` (not judged) by metric, for
#'   metrics whose direction neither the table nor their unit and name tell.
#' @param primary Metrics that are to be judged; the others need no direction then. `NULL`: all; none: nothing is
#'   judged.
#' @param metrics List of further metrics, made with [new_metric()].
#' @param columns Named character: what columns are, by heading: `c(arm = "Einstellung", measured = "threads")`. Besides
#'   the columns of readings: `measured` (a number of its own), `note` (leave it out), `when`, `minutes`, `hours`,
#'   `loop` (loops of one run) and `look` (looks within one pass), which count once, `attribute` (a fact of the arm).
#' @param arm What was measured, where no column of the table says so.
#' @param sheet Which sheet of a workbook is read. Several: each is the table of one arm, which is called as the sheet
#'   is.
#' @param names How the names of several files are built, where it cannot be worked out: as in [read_logs()].
#' @param baseline The arm that others will be compared with. Where no heading is that of the arm, the arm is where the
#'   baseline stands: in a column, in headings, in titles of sections, in labels.
#' @param answer Named character: answers to what was asked, by code: `c(marks = "comma")`.
#' @return A data frame with one row per pass and metric and the columns `arm`,
#'   `value`, `metric`, `unit`, `better`, `workload`, `segment`, `context`, `block`, `boot`,
#'   `pass`, `part`, `order`, `outcome`, `role`, `reason`, `seconds`, `batch`, `scale`.
#'   What was decided can be read with [what_was_read()] and [findings()].
#' @section Errors: `honestmargin_error_input` with file and line for a missing
#'   or empty file, unknown words, a pass given twice; `honestmargin_error_needed` where something is asked: its
#'   `questions` are a list, each with `code`, `seen` and `choices`.
#' @export
#' @examples
#' file <- tempfile(fileext = ".csv")
#' writeLines(c("arm,score", "off,1000", "on,1012", "off,1003", "on,1009"), file)
#' read_readings(file)
read_readings <- function(path, ..., better = NULL, primary = NULL, metrics = list(), columns = NULL, arm = NULL,
                          sheet = NULL, names = NULL, baseline = NULL, answer = NULL) {
  assert_no_dots(...)
  checkmate::assert_string(names, null.ok = TRUE)
  checkmate::assert_string(baseline, null.ok = TRUE)
  checkmate::assert_character(columns, names = "named", null.ok = TRUE)
  checkmate::assert_character(answer, names = "unique", null.ok = TRUE)
  checkmate::assert_string(arm, min.chars = 1, null.ok = TRUE)
  checkmate::assert_character(sheet, any.missing = FALSE, unique = TRUE, null.ok = TRUE)
  said <- list(columns = columns, baseline = baseline, arm = arm, answer = answer, better = better, primary = primary)
  input <- grid_of_input(path, said, sheet, names)
  read <- if (is.null(input$read)) read_grid(input$grid, said) else input$read
  source <- if (is.data.frame(path)) "data frame" else some_of(path, 3)
  questions <- c(with_sheets(read$questions, input), if (!is.null(read$rows)) ask_directions(read$rows, said, metrics))
  if (length(questions)) abort_questions(questions, source, read$account)
  folded <- fold_parts(with_directions(read$rows, better, metrics))
  rows <- number_columns(folded, source, input$row)
  full <- complete_readings(
    rows[setdiff(names(rows), c(".row", ".column", ".line"))], metrics, better, source, rows$.line, input$row, primary
  )
  attr(full, "findings") <- bind_findings(
    attr(full, "findings"), input$findings, read$findings, folded_findings(attr(folded, "parts"), input$row)
  )
  out <- full[c(reading_columns, "scale")]
  attr(out, "account") <- read$account
  attr(out, "loops") <- attr(folded, "loops")
  attr(out, "arms") <- read$arms
  # what was folded was read all the same
  if (!is.null(attr(folded, "parts"))) attr(out, "cells") <- sum(!is.na(read$rows$value))
  out
}

# the directions of parts of runs, which decide what is the worst of them
with_directions <- function(rows, better, metrics) {
  if (any(part_roles %in% names(rows))) {
    metric <- empty_to(rows$metric, rep("score", nrow(rows)))
    rows$metric <- ifelse(is.na(metric), "score", metric)
    said <- empty_to(rows$better, rep(NA_character_, nrow(rows)))
    if (length(better)) said <- ifelse(is.na(said), unname(better[rows$metric]), said)
    unit <- empty_to(rows$unit, rep(NA_character_, nrow(rows)))
    rows[c("unit", "better")] <- resolve_rows(rows$metric, unit, said, known_metrics(metrics))[c("unit", "better")]
  }
  rows
}

folded_findings <- function(parts, row) {
  if (!is.null(parts)) new_finding("note", paste0("folded_", parts$as, "s"), passes = parts$passes, rows = parts$rows)
}

number_columns <- function(long, path, row = "line") {
  for (column in intersect(c("order", "seconds", "part", "batch", "attempt"), names(long))) {
    parsed <- parse_typed_numbers(long[[column]])
    if (length(parsed$bad)) {
      abort_input(
        paste0("column ", column, ": '", plain_text(long[[column]][parsed$bad[1]]), "' is not a number"),
        c(path, paste(row, long$.line[parsed$bad[1]])), "write digits"
      )
    }
    long[[column]] <- parsed$value
  }
  long
}

# where a workbook has several sheets, each may be an arm
with_sheets <- function(questions, input) {
  others <- input$findings$values[input$findings$code == "other_sheets"]
  at <- which(vapply(questions, function(q) q$code == "arm", NA))
  if (length(at) && length(others)) {
    all <- c(others[[1]]$sheet, others[[1]]$others)
    questions[[at[1]]]$choices <- c(
      list(offer("each sheet is one", "sheet", paste(all, collapse = ","))), questions[[at[1]]]$choices
    )
  }
  questions
}

#' The directions that nobody said, as questions: of the metrics that are judged
#' @noRd
ask_directions <- function(rows, said, metrics) {
  metric <- empty_to(rows$metric, rep("score", nrow(rows)))
  metric[is.na(metric)] <- "score"
  better <- empty_to(rows$better, rep(NA_character_, nrow(rows)))
  known <- metric %in% names(said$better)
  better[known] <- unname(said$better[metric[known]])
  unit <- empty_to(rows$unit, rep(NA_character_, nrow(rows)))
  open <- resolve_rows(metric, unit, better, known_metrics(metrics))$unknown
  if (!is.null(said$primary)) open <- intersect(open, said$primary)
  open <- open[vapply(open, function(m) any(!is.na(rows$value[metric == m])), NA)]
  judged <- setdiff(metric, open)
  means <- !anyDuplicated(rows[intersect(c("workload", "context", "arm", "metric"), names(rows))])
  lapply(open, function(m) {
    seen <- paste0("is a higher or a lower '", m, "' better?", if (names_a_spread(m) && means) {
      " (a mean with its spread is no pass; of published figures: honestmargin claim)"
    })
    new_question(paste0("better:", m), seen, list(
      offer("higher is better", "better", paste0(m, "=higher")), offer(
        "lower is better", "better",
        paste0(m, "=lower")
      ),
      offer("it is not judged", "better", paste0(m, "=none")),
      if (m == open[1] && length(judged)) offer("only this is judged", "primary", judged[1])
    ))
  })
}

#' Ask everything that is open, at once
#' @noRd
abort_questions <- function(questions, source, account = NULL) {
  codes <- vapply(questions, `[[`, "", "code")
  questions <- questions[!duplicated(codes)]
  seen <- vapply(questions, `[[`, "", "seen")
  lines <- unlist(lapply(seq_along(questions), function(i) {
    c(
      if (length(questions) > 1) paste0("  ", i, ". ", seen[i]),
      if (!length(questions[[i]]$choices)) {
        "     say which column is which (--columns arm=HEADING), or give each pass a row: arm, value"
      },
      vapply(questions[[i]]$choices, function(one) {
        paste0("     --", one$option, " ", as_typed(one$value), ": ", one$says)
      }, "")
    )
  }))
  what <- if (length(questions) == 1) {
    seen
  } else {
    paste(
      length(questions),
      "things have to be said before this can be read:"
    )
  }
  text <- paste0(source, ": ", what, "\n", paste(lines, collapse = "\n"))
  stop(structure(
    class = c("honestmargin_error_asked", "honestmargin_error_needed", "honestmargin_error", "error", "condition"),
    list(
      message = text, call = NULL, what = paste(seen, collapse = "; "), where = source,
      todo = paste(unlist(lapply(questions, function(q) {
        vapply(q$choices, function(one) {
          paste0("--", one$option, " ", as_typed(one$value))
        }, "")
      })), collapse = "; "),
      questions = questions, account = account
    )
  ))
}
