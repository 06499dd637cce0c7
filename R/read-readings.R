# Scores and other readings typed or exported elsewhere: long or wide CSV.

#' Read a readings table
#'
#' Reads the long form (a column `value`, one row per pass and metric) and the
#' wide form (one row per pass; every column that is not one of the known ones
#' is a metric). Headings of the wide form may name a unit: `load time (s)`.
#' Numbers may be typed as m:ss, with thousands separators or a decimal comma.
#'
#' @param path Path of a delimited text file (comma, semicolon or tab).
#' @param better Named character vector, `"higher"` or `"lower"` by metric, for
#'   metrics whose direction neither the table nor their unit tells.
#' @param metrics List of further metrics, made with [new_metric()].
#' @return A data frame with one row per pass and metric and the columns `arm`,
#'   `value`, `metric`, `unit`, `better`, `workload`, `context`, `block`, `boot`,
#'   `pass`, `order`, `outcome`, `role`, `reason`, `seconds`, `scale`. What was
#'   decided is in the attribute `findings`.
#' @section Errors: `honestmargin_error_input` with file and line for a missing
#'   or empty file, text among the values, unknown words, a pass given twice;
#'   `honestmargin_error_needed` when nobody said which direction is better.
#' @export
#' @examples
#' file <- tempfile(fileext = ".csv")
#' writeLines(c("arm,score", "off,1000", "on,1012", "off,1003", "on,1009"), file)
#' read_readings(file)
read_readings <- function(path, better = NULL, metrics = list()) {
  table <- read_text_table(path, "readings file")
  wide <- !"value" %in% names(table$cells)
  long <- if (wide) widen_to_long(table, path) else table$cells
  long <- read_values(long, table, path)
  full <- complete_readings(long$cells, metrics, better, path, long$cells$.line)
  structure(full[c(reading_columns, "scale")],
    class = class(full),
    findings = bind_findings(attr(full, "findings"), long$findings)
  )
}

#' Cells as text, with the line each row came from
#' @noRd
read_text_table <- function(path, what) {
  opened <- open_text(path, what)
  if (opened$temporary) on.exit(unlink(opened$file))
  lines <- first_lines(opened$file, -1)
  used <- which(nzchar(trimws(lines)) & !grepl("^\\s*#", lines))
  if (length(used) < 2) abort_input("no rows below the heading", path, "one row per pass is needed")
  separator <- c(";", "\t", ",")
  separator <- separator[vapply(separator, function(s) grepl(s, lines[used[1]], fixed = TRUE), NA)]
  if (!length(separator)) {
    abort_input(
      "one column only", c(path, paste("line", used[1])),
      "separate the columns by commas, semicolons or tabs; at least arm and a score are needed"
    )
  }
  warned <- NULL
  cells <- withCallingHandlers(
    data.table::fread(
      text = lines[used], sep = separator[1], header = TRUE, colClasses = "character", fill = FALSE,
      na.strings = "", data.table = FALSE, showProgress = FALSE, check.names = FALSE, strip.white = TRUE
    ),
    warning = function(w) {
      warned <<- conditionMessage(w)
      invokeRestart("muffleWarning")
    }
  )
  if (nrow(cells) != length(used) - 1) {
    at <- used[min(length(used), nrow(cells) + 2)]
    abort_input(
      "a row has more or fewer cells than the heading", c(path, paste("line", at)),
      "quote cells that hold the separator"
    )
  }
  names(cells) <- trimws(names(cells))
  # our own guard against spreadsheet formulas is taken off again
  cells[] <- lapply(cells, function(v) sub("^'([-=+@])", "\\1", v))
  if (anyDuplicated(names(cells))) {
    abort_input(
      paste0("two columns are called '", names(cells)[duplicated(names(cells))][1], "'"),
      c(path, paste("line", used[1])), "give each column its own name"
    )
  }
  known <- tolower(names(cells)) %in% reading_columns
  names(cells)[known] <- tolower(names(cells)[known])
  cells$.line <- used[-1]
  list(cells = cells, decimal = if (separator[1] == ",") "point" else "comma", findings = opened$findings)
}

widen_to_long <- function(table, path) {
  cells <- table$cells
  if (!"arm" %in% names(cells)) {
    abort_input(
      "no column 'arm'", path,
      paste0(
        "name the column that holds the value of the setting; found: ", some_of(setdiff(names(cells), ".line"), 9)
      )
    )
  }
  metrics <- setdiff(names(cells), c(reading_columns, ".line"))
  if (!length(metrics)) {
    abort_input(
      "no column 'value' and no column of a metric", path, "add a column value, or one column per metric"
    )
  }
  if (!"pass" %in% names(cells)) cells$pass <- as.character(seq_len(nrow(cells)))
  rest <- cells[setdiff(names(cells), c(metrics, "metric", "unit", "better"))]
  parts <- lapply(metrics, function(heading) {
    unit <- if (grepl("[([].+[])]\\s*$", heading)) {
      trimws(sub(
        ".*[([](.+)[])]\\s*$", "\\1", heading
      ))
    } else {
      NA_character_
    }
    name <- if (is.na(unit)) heading else trimws(sub("\\s*[([][^([]+[])]\\s*$", "", heading))
    cbind(rest, value = cells[[heading]], metric = name, unit = unit)
  })
  do.call(rbind, parts)
}

read_values <- function(long, table, path) {
  findings <- table$findings
  ids <- if ("metric" %in% names(long)) ifelse(is.na(long$metric), "score", long$metric) else rep("score", nrow(long))
  value <- rep(NA_real_, nrow(long))
  for (id in unique(ids)) {
    rows <- which(ids == id)
    parsed <- parse_typed_numbers(long$value[rows], table$decimal)
    if (length(parsed$bad)) {
      at <- rows[parsed$bad[1]]
      abort_input(
        paste0("'", substr(plain_text(long$value[at]), 1, 40), "' is not a number (", id, ")"),
        c(path, paste("line", long$.line[at])),
        "write the number alone (12.5, 1,234 or 1:05.2); leave the cell empty when the pass gave none"
      )
    }
    value[rows] <- parsed$value
    if (any(parsed$clock)) {
      if (is.null(long$unit)) long$unit <- NA_character_
      long$unit[rows][is.na(long$unit[rows]) | tolower(long$unit[rows]) %in% c("min:s", "m:ss")] <- "s"
      findings <- bind_findings(
        findings,
        new_finding("note", "numbers", paste0("'", id, "': times typed as m:ss are read as seconds"), metric = id)
      )
    }
    if (any(parsed$grouped)) {
      findings <- bind_findings(findings, new_finding("note", "numbers",
        paste0(
          "'", id, "': ", long$value[rows][parsed$grouped][1], " is read as ",
          format(parsed$value[parsed$grouped][1])
        ),
        metric = id
      ))
    }
  }
  long$value <- value
  list(cells = number_columns(long, path), findings = findings)
}

number_columns <- function(long, path) {
  for (column in intersect(c("order", "seconds"), names(long))) {
    parsed <- parse_typed_numbers(long[[column]])
    if (length(parsed$bad)) {
      abort_input(
        paste0("column ", column, ": '", plain_text(long[[column]][parsed$bad[1]]), "' is not a number"),
        c(path, paste("line", long$.line[parsed$bad[1]])), "write digits"
      )
    }
    long[[column]] <- parsed$value
  }
  long
}
