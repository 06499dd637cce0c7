# Scores and other readings typed or exported elsewhere: long or wide CSV.

#' Read a readings table
#'
#' Reads the long form (a column `value`, one row per pass and metric) and the
#' wide form (one row per pass; every column that is not one of the known ones
#' is a metric). Headings of the wide form may name a unit: `load time (s)`.
#' A table with a column for each arm, and none that says which arm a row is of, is taken
#' as that: each row is a pass of each, in one round where a column `block` says so; one column
#' of words says what each row measured. A heading may have two rows, labels above names; rows without a heading are
#' each an arm and its passes.
#' How a pass ended, that it was a warm-up or does not count may stand in words: in its label, in a note, in a column
#' such as `status` or `valid`; a number of the same row then does not count.
#' Numbers may be typed as m:ss, with thousands separators or a decimal comma.
#'
#' @param path Path of a delimited text file (comma, semicolon or tab), of a spreadsheet (`.xlsx`, `.xls` where the
#'   package readxl is installed, `.ods` with readODS; its first sheet that holds any rows), of JSON (an array of
#'   records, a record per line, lists by arm), or a data frame of either form. Several paths: each is the table of one
#'   arm, which is called as the file is; of results of passes (JSON, or texts that hold names and numbers a line each,
#'   one row below a heading, a number) each is a pass, known by its name as in [read_logs()].
#' @param ... Not used.
#' @param better Named character vector, `"higher"`, `"lower"` or `"none"` (not judged) by metric, for
#'   metrics whose direction neither the table nor their unit tells.
#' @param primary Metrics that are to be judged; the others need no direction then. `NULL`: all.
#' @param metrics List of further metrics, made with [new_metric()].
#' @param columns Named character: what columns are called in the file, `c(arm = "Einstellung", value = "Punkte")`.
#'   Common headings are known in English and German, and said where they were taken.
#' @param arm What was measured, where no column of the table says so.
#' @param sheet Which sheet of a workbook is read. Several: each is the table of one arm, which is called as the sheet
#'   is.
#' @param names How the names of several files are built, where it cannot be worked out: as in [read_logs()].
#' @param baseline The arm that others will be compared with, where it is known: where no column is called as that of
#'   the arm, it is the one in which it stands, and it tells which part of the names of several files is the arm.
#' @return A data frame with one row per pass and metric and the columns `arm`,
#'   `value`, `metric`, `unit`, `better`, `workload`, `segment`, `context`, `block`, `boot`,
#'   `pass`, `part`, `order`, `outcome`, `role`, `reason`, `seconds`, `batch`, `scale`.
#'   What was decided can be read with [findings()].
#' @section Errors: `honestmargin_error_input` with file and line for a missing
#'   or empty file, text among the values, unknown words, a pass given twice;
#'   `honestmargin_error_needed` when nobody said which direction is better.
#' @export
#' @examples
#' file <- tempfile(fileext = ".csv")
#' writeLines(c("arm,score", "off,1000", "on,1012", "off,1003", "on,1009"), file)
#' read_readings(file)
read_readings <- function(path, ..., better = NULL, primary = NULL, metrics = list(), columns = NULL, arm = NULL,
                          sheet = NULL, names = NULL, baseline = NULL) {
  assert_no_dots(...)
  checkmate::assert_string(names, null.ok = TRUE)
  checkmate::assert_string(baseline, null.ok = TRUE)
  checkmate::assert_character(columns, names = "unique", null.ok = TRUE)
  checkmate::assert_string(arm, min.chars = 1, null.ok = TRUE)
  checkmate::assert_character(sheet, any.missing = FALSE, unique = TRUE, null.ok = TRUE)
  table <- table_of_input(path, columns, arm, sheet, names, baseline)
  assert_rounds(table, columns, path)
  assert_no_loops(table, columns, path)
  path <- if (is.data.frame(path)) "data frame" else some_of(path, 3)
  if (!nrow(table$cells)) abort_input("no row of it is a pass", path, "one row per pass is needed")
  table$cells <- number_within_arms(table$cells, table$given)
  asked <- c(names(better), primary)
  table <- arm_by_baseline(arm_of_words(columns_to_rows(table, path, asked)), baseline)
  table <- arm_in_labels(table, baseline)
  assert_arm_column(table, path)
  wide <- !"value" %in% names(table$cells)
  if (wide) table <- leave_words(leave_same(leave_beside(table), asked))
  long <- if (wide) widen_to_long(table, path) else units_of_metrics(table$cells)
  long <- read_values(long, table, path)
  full <- complete_readings(long$cells, metrics, better, path, long$cells$.line, empty_to(table$row, "line"), primary)
  attr(full, "findings") <- bind_findings(
    attr(full, "findings"), long$findings, rows_without_number(long$cells, empty_to(table$row, "line"))
  )
  full[c(reading_columns, "scale")]
}

# tables in which a column is a pass of each row, or an arm
columns_to_rows <- function(table, path, asked) {
  table <- leave_differences(table, asked)
  warm <- leave_warm_columns(table$cells)
  table$cells <- warm$cells
  repeats <- repeats_of_columns(table$cells, path)
  across <- if (is.null(repeats)) arms_of_columns(table$cells)
  told <- if (!is.null(across)) {
    table$cells <- arms_to_rows(table$cells, across)
    beside <- paste0("'", across$beside, "' as ", names(across$beside))
    bind_findings(
      if (length(across$number)) {
        new_finding("note", "arms_and_passes", arms = arms_counted(across$arm), columns = across$arms)
      } else {
        new_finding("note", "arms_in_columns", arms = across$arms)
      },
      if (length(across$beside)) new_finding("note", "headings_taken", taken = beside)
    )
  } else if (is.null(repeats)) {
    timed <- order_by_times(table$cells)
    table$cells <- timed$cells
    timed$findings
  } else if ("arm" %in% names(table$cells)) {
    table$cells <- repeats_to_rows(table$cells, repeats)
    bind_findings(
      new_finding("note", "passes_in_columns", columns = repeats$columns),
      if (length(repeats$summaries)) {
        new_finding("note", "summaries_left_out",
          what = count_of(length(repeats$summaries), "column"), words = repeats$summaries
        )
      }
    )
  }
  table$findings <- bind_findings(table$findings, warm$findings, told)
  table
}

widen_to_long <- function(table, path) {
  cells <- table$cells
  metrics <- setdiff(names(cells), c(reading_columns, ".line"))
  if (!"pass" %in% names(cells)) cells$pass <- as.character(seq_len(nrow(cells)))
  if (!length(metrics)) {
    # how passes ended can be all there is
    if ("outcome" %in% names(cells)) {
      return(cbind(cells, value = NA_character_))
    }
    abort_input(
      "no column 'value' and no column of a metric", path, "add a column value, or one column per metric"
    )
  }
  # a direction said in a row is that of the row; a unit of its own column is that of the only metric
  rest <- cells[setdiff(names(cells), c(metrics, "metric", "unit"))]
  bare <- vapply(metrics, function(heading) unit_said(heading)$name, "")
  of_series <- unit_of_series(metrics)
  parts <- lapply(metrics, function(heading) {
    said <- unit_said(heading)
    if (is.na(said$unit)) said$unit <- of_series[[heading]]
    # "score (easy)" beside "score (hard)"
    if (sum(bare == said$name) > 1) said$name <- heading
    if (said$name == heading && is.na(better_from_unit(plain_unit(said$unit)))) said$unit <- unit_by_heading(heading)
    beside <- !said$inside && length(metrics) == 1 && "unit" %in% names(cells)
    cbind(rest, value = cells[[heading]], metric = said$name, unit = if (beside) cells$unit else said$unit)
  })
  do.call(rbind, parts)
}

#' What the name of a metric says of its unit, "load time (s)" or a word of the trade
#' @return A list: `name`, `unit` (`NA` where nothing is said), `inside` (it stood in brackets).
#' @noRd
unit_said <- function(heading) {
  if (grepl("[([].+[])]\\s*$", heading)) {
    unit <- trimws(sub(".*[([](.+)[])]\\s*$", "\\1", heading))
    return(list(name = trimws(without_unit(heading)), unit = unit, inside = TRUE))
  }
  list(name = heading, unit = stats::na.omit(c(unit_by_heading(heading), unit_of_tail(heading)))[1], inside = FALSE)
}

#' The unit of words that say which number of a series it is and not of what, as "Min" and "1%" behind "Avg FPS"
#' @return Named character by heading: `"fps"` where such words stand next to a rate, else `NA`.
#' @noRd
unit_of_series <- function(headings) {
  statistic <- grepl("^([0-9.,]+ ?%|lows?)$", heading_key(headings)) |
    !is.na(summary_key(headings)) & !summary_key(headings) %in% c("sum", "length", "sd")
  rate <- vapply(headings, function(h) "fps" %in% tolower(c(unit_said(h)$unit, h)), NA)
  # each goes with what stands before it; those in front of all with what follows
  of <- cummax(ifelse(statistic, 0L, seq_along(headings)))
  of[of == 0] <- which(!statistic)[1]
  stats::setNames(ifelse(statistic & rate[of], "fps", NA_character_), headings)
}

# metrics that stand in rows are called as others are in headings
units_of_metrics <- function(long) {
  if (!"metric" %in% names(long)) {
    return(long)
  }
  if (is.null(long$unit)) long$unit <- NA_character_
  for (name in setdiff(unique(long$metric), c(NA, names(known_metrics())))) {
    said <- unit_said(name)
    rows <- which(long$metric == name & is.na(long$unit))
    # "lap (easy)" says no unit
    if (is.na(said$unit) || !length(rows) || said$inside && is.na(better_from_unit(plain_unit(said$unit)))) next
    long$unit[rows] <- said$unit
    long$metric[rows] <- said$name
  }
  long
}
