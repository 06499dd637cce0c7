# Headings of two rows: labels that span several columns stand above the names of these.

#' The two rows of a heading, where the same names come again under each label
#'
#' @param cells Matrix of text, one row per line, `NA` where empty.
#' @return `NULL` where the heading is one row; else a list: `row` (of the names), `label`, `name` and `key` (both in
#'   one), one for each column; `label` is `NA` for what stands before the first of them.
#' @noRd
levels_of_heading <- function(cells) {
  cells <- as.matrix(cells)
  numbers <- rowSums(matrix(is_number_text(cells), nrow(cells)))
  for (row in setdiff(seq_len(min(nrow(cells) - 1, 10)), 1)) {
    names <- unname(cells[row, ])
    if (numbers[row] || !numbers[row + 1] || !anyDuplicated(names[!is.na(names)])) next
    label <- label_of_columns(unname(cells[row - 1, ]), names)
    # a label alone above an empty cell names its column
    lone <- is.na(names) & !is.na(cells[row - 1, ])
    names[lone] <- cells[row - 1, lone]
    unnamed <- is.na(names)
    names[unnamed] <- paste0("V", which(unnamed))
    key <- ifelse(is.na(label), names, paste0(names, "\r", label))
    if (length(unique(stats::na.omit(label))) > 1 && !anyDuplicated(key)) {
      return(list(row = row, label = label, name = names, key = key, unnamed = which(unnamed)))
    }
  }
}

# a title above may be wider than all that stands below; a label is not
levels_within <- function(levels, width, where) {
  beyond <- seq_along(levels$key) > width
  if (any(beyond & !seq_along(levels$key) %in% levels$unnamed)) {
    abort_input("the row of labels above has more cells than the heading", where, "quote cells that hold the separator")
  }
  levels[c("label", "name", "key")] <- lapply(levels[c("label", "name", "key")], `[`, !beyond)
  levels$unnamed <- levels$unnamed[levels$unnamed <= width]
  levels
}

# a label holds until the next, as merged cells are written
label_of_columns <- function(top, names) {
  top[is.na(names)] <- NA
  given <- which(!is.na(top))
  if (!length(given)) {
    return(rep(NA_character_, length(top)))
  }
  label <- c(NA, top[given])[cumsum(!is.na(top)) + 1]
  # a label above one column of a name that does not come again spans nothing
  alone <- !label %in% label[duplicated(label)] & !names %in% names[duplicated(names)]
  replace(label, is.na(names) | alone, NA)
}

#' Units in a row of their own below the heading
#' @param cells Data frame of text, with `.line`.
#' @return `cells` without that row, the units in brackets behind the names they stand under.
#' @noRd
units_below_heading <- function(cells) {
  first <- unlist(cells[1, setdiff(names(cells), ".line")])
  bare <- gsub("^[[(]\\s*|\\s*[])]$", "", first)
  empty <- is.na(bare) | bare %in% c("", "-", "unit", "units", "Einheit")
  unit <- plain_unit(bare)
  known <- unit %in% names(unit_quantity) | !is.na(better_from_unit(unit))
  if (nrow(cells) < 2 || all(empty) || !all(empty | known) || !any(is_number_text(unlist(cells[2, names(first)])))) {
    return(cells)
  }
  headed <- names(first)[!empty & !names(first) %in% reading_columns & without_unit(names(first)) == names(first)]
  names(cells)[match(headed, names(cells))] <- paste0(headed, " (", bare[headed], ")")
  cells[-1, , drop = FALSE]
}

#' The columns under each label, one below the other
#' @param levels From `levels_of_heading()`.
#' @return A list: `cells`, with a column that holds the label; `findings`.
#' @noRd
stack_levels <- function(cells, levels) {
  labels <- unique(stats::na.omit(levels$label))
  as <- label_means(levels, names(cells))
  shared <- setdiff(names(cells), levels$key[!is.na(levels$label)])
  counts <- intersect(levels$name[levels$unnamed], shared)
  counts <- counts[vapply(cells[counts], function(v) all(grepl("^[0-9]+$", v)), NA)]
  parts <- lapply(labels, function(label) {
    here <- which(levels$label == label)
    part <- cells[c(shared, levels$key[here])]
    names(part) <- c(shared, levels$name[here])
    part[[as]] <- rep(label, nrow(part))
    part[rowSums(!is.na(part[levels$name[here]])) > 0, , drop = FALSE]
  })
  out <- stack_rows(parts)
  if (length(counts) && !"pass" %in% names(out)) names(out)[names(out) == counts[1]] <- "pass"
  list(cells = out, findings = new_finding("note", "two_headings", labels = labels, as = as))
}

# the names below are what was measured, or the labels are; with a column of arms the labels are where
label_means <- function(levels, names) {
  below <- unique(levels$name[!is.na(levels$label)])
  if (name_the_arm(names)) {
    "workload"
  } else if (!any(names_a_metric(below)) && any(names_a_metric(unique(stats::na.omit(levels$label))))) {
    "metric"
  } else {
    "arm"
  }
}
