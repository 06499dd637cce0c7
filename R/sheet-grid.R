# A grid: the cells of one table as text, each with its place. It knows nothing of the job.

#' @param cells Character matrix, `NA` where a cell is empty. @param line Number of each row where it came from.
#' @param row What a row is called there. @param typed Whether its numbers were numbers there, so that only a point can
#'   be their decimal mark. @param headed Whether its first row is known to be the heading.
#' @return A list of class `honestmargin_grid`.
#' @noRd
new_grid <- function(cells, line = seq_len(nrow(cells)), source = "data frame", row = "line", typed = FALSE,
                     headed = FALSE) {
  stopifnot(is.character(cells), is.matrix(cells), length(line) == nrow(cells))
  cells[] <- plain_cell(cells)
  kept <- rowSums(!is.na(cells)) > 0
  if (headed) kept[1] <- TRUE
  structure(
    list(
      cells = unname(cells[kept, , drop = FALSE]), line = line[kept], source = source, row = row, typed = typed,
      headed = headed
    ),
    class = "honestmargin_grid"
  )
}

#' A data frame as a grid, its names as the heading
#' @noRd
grid_of_frame <- function(x, source = "data frame", row = "row") {
  cells <- do.call(cbind, c(lapply(unname(as.list(x)), cell_text), list(deparse.level = 0)))
  if (is.null(cells)) cells <- matrix(character(), nrow(x), 0)
  new_grid(rbind(names(x), cells, deparse.level = 0), c(0L, seq_len(nrow(x))), source, row, TRUE, TRUE)
}

# values of R as they would be written in a file
cell_text <- function(v) {
  if (inherits(v, "POSIXct")) {
    format(v, "%Y-%m-%d %H:%M:%S")
  } else if (is.double(v) && !inherits(v, c("Date", "difftime"))) {
    short <- sprintf("%.15g", v)
    ifelse(is.na(v), NA, ifelse(suppressWarnings(as.numeric(short)) == v, short, sprintf("%.17g", v)))
  } else {
    as.character(v)
  }
}

# what is empty inside its quotes is empty; our own guard against formulas of spreadsheets is taken off again
plain_cell <- function(text) {
  text <- trimws(gsub("\u00a0", " ", text, fixed = TRUE))
  text <- sub("^'([-=+@])", "\\1", text)
  replace(text, !has_text(text), NA)
}

#' What cells hold, by their text alone
#' @return Character of the shape of `text`: `empty`, `nothing` ("-", "n/a"), `number`, `time`, `end` (how a pass
#'   ended) or `word`.
#' @noRd
cell_kinds <- function(text) {
  once <- unique(as.vector(text))
  kind <- rep("word", length(once))
  kind[is_number_cell(once)] <- "number"
  kind[!is.na(time_of_cell(once))] <- "time"
  kind[is_end(once)] <- "end"
  kind[once %in% words_of_nothing] <- "nothing"
  kind[is.na(once)] <- "empty"
  out <- kind[match(text, once)]
  dim(out) <- dim(text)
  out
}

# dates and times of day by their form: `stamp`, `date`, `clock`; a fraction behind it makes it how long it took
time_of_cell <- function(text) {
  day <- paste0(
    "([0-9]{4}[-/.][0-9]{1,2}[-/.][0-9]{1,2}|[0-9]{1,2}[-/.][0-9]{1,2}[-/.][0-9]{2,4}|",
    "[0-9]{1,2} [A-Za-z]{3,9} [0-9]{4})"
  )
  hour <- "[0-9]{1,2}:[0-9]{2}(:[0-9]{2})?( ?[AaPp][.]?[Mm][.]?)?"
  out <- rep(NA_character_, length(text))
  out[grepl(paste0("^", day, "$"), text)] <- "date"
  out[grepl(paste0("^", hour, "$"), text)] <- "clock"
  out[grepl(paste0("^", day, "[T ]+[0-9]{1,2}:[0-9]{2}.*$"), text)] <- "stamp"
  out
}
