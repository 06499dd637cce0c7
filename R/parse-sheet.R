# Spreadsheets, where the package that reads them is installed.

sheet_readers <- c(xlsx = "readxl", xls = "readxl", xlsm = "readxl", ods = "readODS")

sheet_ending <- function(path) {
  ending <- tolower(sub("^.*[.]", "", basename(path)))
  if (ending %in% names(sheet_readers)) ending
}

#' A sheet of a workbook as a grid
#' @param sheet Its name; `NULL`: the first that holds any, and which others do is told.
#' @return A list: `grid`, `findings`.
#' @noRd
grid_of_sheet <- function(path, sheet = NULL, what = "readings file") {
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
  if (length(sheet) && !sheet %in% all) abort_input(paste0("no sheet '", sheet, "'"), path, did_you_mean(sheet, all))
  filled <- if (!length(sheet) && length(all) > 1) all[vapply(all, function(s) NROW(cells_of(s, 2)) > 1, NA)] else all
  taken <- if (length(sheet)) sheet else c(filled, all)[1]
  cells <- unname(as.matrix(as.data.frame(text_cells(cells_of(taken)), check.names = FALSE)))
  if (sum(!is.na(cells)) < 2) {
    abort_input("no rows below the heading", path, "one row per pass is needed", no_table = TRUE)
  }
  list(
    grid = new_grid(cells, seq_len(nrow(cells)), path, "row", typed = TRUE),
    findings = if (!length(sheet) && length(filled) > 1) {
      new_finding("warning", "other_sheets", sheet = filled[1], others = filled[-1])
    }
  )
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
