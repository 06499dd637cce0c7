# Where a table has its heading: one row, two rows, or none; and which rows stand above it.

#' @param grid From `new_grid()`. @param kinds From `cell_kinds()`. @param said What the tester said.
#' @return A list: `row` (0: none), `top` (of two rows, the upper; 0: none), `units` (a row of units below; 0: none),
#'   `above` (rows before), `names` and `labels` (one for each column, `NA` where there is none).
#' @noRd
find_head <- function(grid, kinds, said = list()) {
  baseline <- said$baseline
  cells <- grid$cells
  headed <- grid$headed || identical(answered(said, "headless"), "heading")
  wide <- c(which(rowSums(!is.na(cells)) > 1), 1L)
  row <- if (grid$headed) 1L else if (headed) wide[1] else row_of_heading(cells, kinds, baseline)
  top <- if (headed) 0L else upper_row(cells, kinds, row, baseline)
  names <- if (row > 0) cells[row, ] else rep(NA_character_, ncol(cells))
  labels <- if (top > 0) spread_labels(cells[top, ], names) else rep(NA_character_, ncol(cells))
  # what stands only in the upper row names its column
  lone <- top > 0 & is.na(names) & !is.na(cells[max(top, 1), ])
  names[lone] <- cells[max(top, 1), lone]
  labels[lone] <- NA
  units <- if (row > 0 && !grid$headed) units_row(cells, kinds, row) else 0L
  if (units > 0) {
    unit <- gsub("^[[(]\\s*|\\s*[])]$", "", cells[units, ])
    there <- !is.na(unit) & !is.na(names) & is_unit_text(unit)
    names[there] <- paste0(names[there], " (", unit[there], ")")
  }
  list(
    row = row, top = top, units = units, above = setdiff(seq_len(max(row, top, 1) - 1), top), names = names,
    labels = labels
  )
}

# the last row of words before the first row with a number, if every row above is shorter or a title
row_of_heading <- function(cells, kinds, baseline) {
  filled <- rowSums(!is.na(cells))
  # "1%" beside words is the name of a low
  numbers <- rowSums(kinds == "number" & !grepl("^[0-9.,]+ ?%$", cells))
  if (ncol(cells) == 1) {
    return(if (nrow(cells) > 1 && kinds[1] == "word" && any(kinds[-1] == "number")) 1L else 0L)
  }
  wide <- which(filled > 1)
  if (!length(wide)) {
    return(0L)
  }
  first <- wide[1]
  if (numbers[first] > 0) {
    return(row_of_numbers(cells, kinds, baseline, wide, numbers))
  }
  with_number <- which(numbers > 0 & filled > 1)
  if (!length(with_number)) {
    # outcomes alone: words below words
    return(first)
  }
  before <- wide[wide < with_number[1] & numbers[wide] == 0]
  # a row of units, or of passes that all failed, is no heading
  before <- before[!vapply(before, function(r) {
    all(kinds[r, ] %in% c("empty", "nothing", "end") | is_unit_text(cells[r, ])) || any(kinds[r, ] == "time") ||
      r != wide[1] && any(kinds[r, ] == "end")
  }, NA)]
  if (!length(before)) {
    return(0L)
  }
  most <- max(filled[before])
  fullest <- before[filled[before] == most]
  # the first of the fullest: rows of words below it are passes without a number
  if (length(fullest) > 1 && fullest[2] == fullest[1] + 1 && doubled_names(cells[fullest[2], ])) {
    return(fullest[2])
  }
  # two rows: labels above fewer names are told by names that come again
  later <- before[before > fullest[1] & vapply(before, function(r) doubled_names(cells[r, ]), NA)]
  if (length(later)) later[1] else fullest[1]
}

# the first wide row holds numbers: arms that are numbers head their columns, or there is no heading
row_of_numbers <- function(cells, kinds, baseline, wide, numbers) {
  first <- wide[1]
  held <- any(baseline %in% cells[first, ])
  if (held && first < nrow(cells) && numbers[first + 1] == 0 && doubled_names(cells[first + 1, ])) {
    return(first + 1L)
  }
  # units in this row alone: "125 Hz; 500 Hz" above plain numbers
  lettered <- all(is.na(cells[first, ]) | grepl("[[:alpha:]]", cells[first, ]))
  below <- wide[-1]
  if (held && lettered && length(below) && !any(grepl("[[:alpha:]]", cells[below, ]) & kinds[below, ] == "number")) {
    return(first)
  }
  heads <- any(baseline %in% cells[first, -1]) && kinds[first, 1] != "number" && !baseline %in% cells[, 1]
  if (heads || all_passes(cells[first, ])) first else 0L
}

all_passes <- function(names) {
  number <- pass_number(names[!is.na(names)])
  is_pass <- !is.na(number)
  any(!is_pass) && sum(is_pass) > 1 && identical(number[is_pass], seq_len(sum(is_pass)))
}

doubled_names <- function(names) anyDuplicated(names[!is.na(names)]) > 0

upper_row <- function(cells, kinds, row, baseline) {
  if (row < 2) {
    return(0L)
  }
  top <- row - 1L
  words <- !is.na(cells[top, ])
  doubled <- doubled_names(cells[row, ])
  held <- !is.null(baseline) && baseline %in% cells[top, ]
  if (sum(words) >= 2 && (doubled || held)) top else 0L
}

# a label holds until the next, as merged cells are written
spread_labels <- function(top, names) {
  given <- which(!is.na(top))
  if (!length(given)) {
    return(rep(NA_character_, length(top)))
  }
  label <- c(NA, top[given])[cumsum(!is.na(top)) + 1]
  # what heads one column alone whose name comes once spans nothing
  spans <- label %in% label[duplicated(label)] | names %in% names[duplicated(names)]
  replace(label, is.na(names) | !spans, NA)
}

is_unit_text <- function(text) {
  bare <- gsub("^[[(]\\s*|\\s*[])]$", "", text)
  is.na(text) | bare %in% c("-", "unit", "units", "Einheit", "K", "C", "F") | is_unit(empty_na(bare))
}

units_row <- function(cells, kinds, row) {
  below <- row + 1L
  if (below >= nrow(cells) || all(is.na(cells[below, ])) || any(kinds[below, ] == "number")) {
    return(0L)
  }
  if (all(is_unit_text(cells[below, ])) && any(is_unit(gsub("[][()]", "", empty_na(cells[below, ]))))) below else 0L
}
