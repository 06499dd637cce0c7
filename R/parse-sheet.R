# Spreadsheets, where the package that reads them is installed.

sheet_readers <- c(xlsx = "readxl", xls = "readxl", xlsm = "readxl", ods = "readODS")

sheet_ending <- function(path) {
  ending <- tolower(sub("^.*[.]", "", basename(path)))
  if (ending %in% names(sheet_readers)) ending
}

#' The cells of a sheet, as `read_text_table()` gives those of a file of text
#' @param sheet Its name; `NULL`: the first that holds any, and which others do is told.
#' @noRd
read_sheet <- function(path, what, sheet = NULL) {
  if (!file.exists(path)) abort_input(paste("no such", what), path, "check the name")
  package <- sheet_readers[[sheet_ending(path)]]
  if (!requireNamespace(package, quietly = TRUE)) {
    abort_stuck(
      paste0("the package ", package, " that reads such files is not installed"), path,
      paste0("install.packages(\"", package, "\"), or save the sheet as CSV")
    )
  }
  open <- function(code) {
    tryCatch(suppressMessages(code), error = function(e) {
      abort_input("cannot be read as a spreadsheet", path, "save the sheet as CSV")
    })
  }
  # what cells hold, not how they are shown: 1,234.50 and 1234.5 are one number
  cells_of <- function(sheet, most = Inf) {
    open(if (package == "readxl") {
      readxl::read_excel(
        path, sheet, col_types = "text", col_names = FALSE, .name_repair = "minimal", n_max = most
      )
    } else {
      getExportedValue(package, "read_ods")(path, sheet, col_names = FALSE, col_types = NA, as_tibble = FALSE)
    })
  }
  all <- open(getExportedValue(package, if (package == "readxl") "excel_sheets" else "list_ods_sheets")(path))
  if (length(sheet)) {
    if (!sheet %in% all) abort_input(paste0("no sheet '", sheet, "'"), path, did_you_mean(sheet, all))
    return(headed_frame(cells_of(sheet), path))
  }
  filled <- if (length(all) > 1) all[vapply(all, function(s) NROW(cells_of(s, 2)) > 1, NA)] else all
  table <- headed_frame(cells_of(c(filled, all)[1]), path)
  if (length(filled) > 1) {
    table$sheets <- filled
    table$findings <- bind_findings(
      table$findings, new_finding("warning", "other_sheets", sheet = filled[1], others = filled[-1])
    )
  }
  table
}

# the rows of a sheet, its heading among them
headed_frame <- function(cells, path) {
  cells <- as.data.frame(text_cells(cells), check.names = FALSE)
  cells <- cells[rowSums(!is.na(cells)) > 0, , drop = FALSE]
  if (nrow(cells) < 2) abort_input("no rows below the heading", path, "one row per pass is needed")
  levels <- levels_of_heading(utils::head(cells, 40))
  row <- empty_to(levels$row, find_heading(utils::head(cells, 40)))
  names <- empty_to(levels$key, unlist(cells[row, ], use.names = FALSE))
  unnamed <- empty_to(levels$unnamed, which(is.na(names)))
  names[unnamed] <- paste0("V", unnamed)
  above <- unlist(cells[seq_len(row - 1 - length(levels$row)), ], use.names = FALSE)
  kept <- stats::setNames(cells[seq(row + 1, nrow(cells)), , drop = FALSE], names)
  table <- table_of_frame(kept, path)
  table$cells$.line <- table$cells$.line + row - 1L
  table$unnamed <- names[unnamed]
  if (!all(is.na(above))) table$findings <- new_finding("note", "above_heading", text = above[!is.na(above)])
  if (!is.null(levels)) {
    stacked <- stack_levels(table$cells, levels)
    table$cells <- stacked$cells
    table$findings <- bind_findings(table$findings, stacked$findings)
  }
  table
}

text_cells <- function(x) {
  lapply(as.data.frame(x, check.names = FALSE), function(v) {
    text <- if (inherits(v, "POSIXct")) {
      format(v, "%Y-%m-%d %H:%M:%S")
    } else if (is.double(v) && !inherits(v, "Date")) {
      ifelse(is.na(v), NA, sprintf("%.15g", v))
    } else {
      as.character(v)
    }
    text <- trimws(text)
    ifelse(nzchar(text), text, NA)
  })
}

#' A data frame as the cells of a table, for what is typed in R or stands in a sheet
#' @noRd
table_of_frame <- function(x, path) {
  cells <- text_cells(x)
  cells <- as.data.frame(cells[nzchar(names(cells))], check.names = FALSE)
  filled <- rowSums(!is.na(cells)) > 0
  if (!any(filled)) abort_input("no rows below the heading", path, "one row per pass is needed")
  cells <- named_cells(cells, path)
  cells$.line <- seq_len(nrow(cells)) + 1L
  list(cells = cells[filled, , drop = FALSE], decimal = "point", findings = no_findings())
}
