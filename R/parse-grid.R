# A sheet as people keep it: titles above the heading, columns without one, cells merged over several rows, and rows
# and columns that sum others up.

#' Which row is the heading
#'
#' A title or notes stand above it with fewer cells; it is all words, and numbers stand below.
#' @param cells Data frame or matrix of text, one row per line, `NA` where empty.
#' @return Its number: 1 unless a later row is plainly the heading.
#' @noRd
find_heading <- function(cells) {
  cells <- as.matrix(cells)
  filled <- rowSums(!is.na(cells))
  numbers <- rowSums(matrix(is_number_text(cells), nrow(cells)))
  for (row in seq_len(nrow(cells) - 1)) {
    if (filled[row] > 1 && !numbers[row] && numbers[row + 1] && all(filled[seq_len(row - 1)] < filled[row])) {
      return(row)
    }
  }
  1L
}

is_number_text <- function(v) grepl("^[^[:alpha:]]*[0-9][^[:alpha:]]*$", v)

#' The first lines of a text as cells, however many each has
#' @noRd
first_cells <- function(lines, separator) {
  fields <- cells_of_lines(lines, separator)
  cells <- do.call(rbind, lapply(fields, `[`, seq_len(max(lengths(fields)))))
  # what is empty inside its quotes is empty
  replace(cells, !has_text(cells) | is.na(cells), NA)
}

#' What a sheet holds besides its table, taken out of it and told
#'
#' @param table As `read_text_table()` gives it. @param columns What columns are called, as given. @param arm The arm of
#'   all rows, where no column says it.
#' @return The table, its columns called by the words that are known here.
#' @noRd
settle_sheet <- function(table, columns, path, arm = NULL) {
  table$cells <- units_below_heading(table$cells)
  table$given <- names(table$cells)
  named <- rename_columns(table$cells, columns, path)
  told <- list(table$findings, named$findings)
  if (!is.null(arm)) {
    if ("arm" %in% names(named$cells)) abort_usage("there is a column that says the arm", path, "leave --arm out")
    named$cells$arm <- rep(arm, nrow(named$cells))
  }
  for (settle in list(mark_warm_ups, mark_ends, leave_notes, settle_unnamed, fill_merged, leave_summaries)) {
    done <- settle(named$cells, table$unnamed)
    named$cells <- done$cells
    told <- c(told, list(done$findings))
  }
  table$cells <- named$cells
  table$findings <- do.call(bind_findings, told)
  table
}

# runs are numbered within an arm as a rule; what is called a pass has an id of its own, unless most ids stand at
# several arms
number_within_arms <- function(cells, given) {
  # beside passes that have a name, one that has none is its row
  bare <- is.na(empty_to(cells$pass, NA))
  if (any(!bare)) cells$pass[bare] <- paste("line", cells$.line[bare])
  # a session that is toggled is one pass of several arms, and says its parts
  if (!all(c("pass", "arm") %in% names(cells)) || "part" %in% names(cells)) {
    return(cells)
  }
  several <- tapply(cells$arm, cells$pass, function(arms) length(unique(arms)) > 1)
  numbered <- !"pass" %in% given || isTRUE(mean(several) >= 0.5)
  if (numbered && anyDuplicated(cells[intersect(c("pass", "workload", "metric"), names(cells))])) {
    cells$pass <- paste(cells$arm, cells$pass)
  }
  cells
}

# what somebody wrote about a pass is for people
leave_notes <- function(cells, unnamed = NULL) {
  notes <- headed_as(names(cells), "note")
  notes <- notes[!vapply(cells[notes], function(v) all(is.na(v) | is_number_text(v)) && !all(is.na(v)), NA)]
  list(
    cells = cells[!names(cells) %in% notes],
    findings = if (length(notes)) new_finding("note", "notes_left_out", columns = notes)
  )
}

# A column without a heading: row numbers say nothing; words before everything else are what the rows are of.
settle_unnamed <- function(cells, unnamed) {
  found <- NULL
  left <- character()
  for (name in intersect(unnamed, names(cells))) {
    v <- cells[[name]]
    labels <- !is.na(v) & !is_summary(v)
    if (all(!labels | grepl("^[0-9]+$", v)) && !anyDuplicated(v[labels])) {
      # rows that are numbered, and some of them named for what they sum up
      labelled <- any(is_summary(v)) && !"pass" %in% names(cells)
      cells <- if (labelled) called(cells, name, "pass") else without_column(cells, name)
    } else if (name == unnamed[1] && !"arm" %in% names(cells) && !any(is_number_text(v))) {
      cells <- called(cells, name, "arm")
      found <- new_finding("note", "headings_taken", taken = "the one without a heading as arm")
    } else if (name == unnamed[1] && !"metric" %in% names(cells) && any(names_a_metric(unique(v[!is.na(v)])))) {
      # each row is what was measured
      cells <- called(cells, name, "metric")
    } else {
      cells <- without_column(cells, name)
      left <- c(left, name)
    }
  }
  if (length(left)) {
    found <- bind_findings(found, new_finding("warning", "no_heading", columns = count_of(length(left), "column")))
  }
  list(cells = cells, findings = found)
}

called <- function(cells, name, as) {
  names(cells)[names(cells) == name] <- as
  cells
}
without_column <- function(cells, name) cells[names(cells) != name]

# One cell merged over the rows of an arm is exported as its first row only.
fill_merged <- function(cells, unnamed = NULL) {
  found <- NULL
  for (column in intersect(c("arm", "workload"), names(cells))) {
    v <- cells[[column]]
    given <- which(!is.na(v))
    # each once, the first in the first row: as merged cells come, and no single cell that was forgotten
    if (!anyNA(v) || length(given) < 2 || given[1] != 1 || anyDuplicated(v[given])) next
    cells[[column]] <- v[given][cumsum(!is.na(v))]
    found <- bind_findings(found, new_finding("note", "merged_cells", column = column, rows = sum(is.na(v))))
  }
  list(cells = cells, findings = found)
}

# Words by which a sheet sums up what stands beside or above, in English and German, and how.
summary_words <- list(
  mean = c("mean", "average", "avg", "\u00f8", "mittel", "mittelwert", "durchschnitt", "schnitt"),
  median = "median", min = c("min", "minimum"), max = c("max", "maximum"), sum = c("total", "sum", "summe"),
  length = c("n", "count", "anzahl"),
  sd = c("sd", "std", "stdev", "stddev", "std dev", "standard deviation", "standardabweichung")
)

# by themselves, since the command starts R without what it attaches
summary_functions <- list(
  mean = mean, median = stats::median, min = min, max = max, sum = sum, length = length, sd = stats::sd
)

summary_key <- function(text) meant_by(tolower(trimws(gsub("[.:]", "", text))), summary_words)
is_summary <- function(text) !is.na(summary_key(text))

#' Leave out rows that sum up those above
#'
#' No pass is called so. An arm may be ("max"), so there the numbers have to be what the word says.
#' @noRd
leave_summaries <- function(cells, unnamed = NULL) {
  names_rows <- intersect(c("pass", "block", "order"), names(cells))
  sums <- Reduce(`|`, lapply(cells[names_rows], is_summary), rep(FALSE, nrow(cells)))
  if ("arm" %in% names(cells)) sums <- sums | sums_above(cells, sums)
  if (!any(sums)) {
    return(list(cells = cells))
  }
  words <- unique(unlist(lapply(cells[sums, c(names_rows, intersect("arm", names(cells))), drop = FALSE], function(v) {
    v[is_summary(v)]
  })))
  list(
    cells = cells[!sums, , drop = FALSE],
    findings = new_finding("note", "summaries_left_out", what = count_of(sum(sums), "row"), words = words)
  )
}

# rows whose arm is such a word, and whose numbers sum up the rows above, since the last of them
sums_above <- function(cells, known) {
  key <- summary_key(cells$arm)
  out <- rep(FALSE, nrow(cells))
  from <- 1
  for (row in seq_len(nrow(cells))) {
    if (is.na(key[row])) next
    above <- setdiff(seq(from, length.out = row - from), which(known | !is.na(key)))
    out[row] <- length(above) > 0 && sums_up(cells[row, ], cells[above, , drop = FALSE], key[row])
    # the next of a group (mean, then sd) sums up the same rows
    if (out[row] && row < nrow(cells) && is.na(key[row + 1])) from <- row + 1
  }
  # one that sums up nothing shows that an arm is called so
  out & !key %in% key[!is.na(key) & !out]
}

sums_up <- function(row, above, key) {
  numbers <- setdiff(names(row), c(setdiff(reading_columns, "value"), ".line"))
  holds <- unlist(lapply(numbers, function(name) {
    typed <- parse_typed_numbers(row[[name]])$value
    values <- parse_typed_numbers(above[[name]])$value
    values <- values[!is.na(values)]
    if (is.na(typed) || length(values) < 2 && key != "length") {
      return(NULL)
    }
    # a sheet shows so many decimals
    decimals <- nchar(sub("^[^.,]*[.,]?", "", row[[name]]))
    abs(summary_functions[[key]](values) - typed) <= 0.5001 * 10^-decimals + 1e-9 * abs(typed)
  }))
  length(holds) > 0 && all(holds)
}
