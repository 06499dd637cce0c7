# Which column holds the arm, where none is called so.

# the one column of words is that of the arm, where its words come again
arm_of_words <- function(table) {
  cells <- table$cells
  if (any(c("arm", "workload", "metric") %in% names(cells))) {
    return(table)
  }
  others <- setdiff(names(cells), c(reading_columns, ".line", headed_as(names(cells), "when")))
  words <- others[vapply(cells[others], function(v) !anyNA(v) && !any(is_number_text(v)) && anyDuplicated(v) > 0, NA)]
  if (length(words) == 1) {
    table$cells <- called(cells, words, "arm")
    table$findings <- bind_findings(
      table$findings, new_finding("note", "headings_taken", taken = paste0("'", words, "' as arm"))
    )
  }
  table
}

#' Passes that are called by their arm and a number, "off-1"
#'
#' Where no column is that of the arm, or the arm that is known stands in it with such numbers only.
#' @noRd
arm_in_labels <- function(table, baseline) {
  cells <- table$cells
  column <- intersect(c("arm", "pass"), names(cells))[1]
  if (is.na(column) || column == "arm" && (is.null(baseline) || baseline %in% cells$arm)) {
    return(table)
  }
  words <- paste(words_before_number[nzchar(words_before_number)], collapse = "|")
  shape <- paste0("^(.*?[[:alnum:]])[-_ .(/]*?(?:[-_ .(/](?:", words, ")[-_ .]*)?(?<![0-9])([0-9]+)\\)?$")
  parts <- regmatches(cells[[column]], regexec(shape, cells[[column]], ignore.case = TRUE, perl = TRUE))
  arm <- vapply(parts, `[`, "", 2)
  if (anyNA(arm) || length(unique(arm)) < 2 || !is.null(baseline) && !baseline %in% arm) {
    return(table)
  }
  labels <- unique(cells[[column]])
  if (!any(duplicated(arm[match(labels, cells[[column]])]))) {
    return(table)
  }
  cells$pass <- cells[[column]]
  cells$arm <- arm
  table$cells <- cells
  table$findings <- bind_findings(table$findings, new_finding("note", "arm_in_labels", arms = unique(arm)))
  table
}

# where the arm that is known stands in one column, that is the column of the arms
arm_by_baseline <- function(table, baseline) {
  cells <- table$cells
  others <- setdiff(names(cells), c(reading_columns, ".line", headed_as(names(cells), "when")))
  held <- others[vapply(cells[others], function(v) baseline %in% v && length(unique(v)) > 1, NA)]
  if ("arm" %in% names(cells) || is.null(baseline) || length(held) != 1) {
    return(table)
  }
  table$cells <- called(cells, held, "arm")
  table$findings <- bind_findings(
    table$findings, new_finding("note", "arm_by_baseline", column = held, arm = baseline)
  )
  table
}

assert_arm_column <- function(table, path) {
  if ("arm" %in% names(table$cells)) {
    return(invisible())
  }
  abort_input("no column 'arm'", path, paste0(
    if (!isTRUE(table$alone)) {
      paste0(
        "say which column holds the value of the setting: --columns arm=HEADING; found: ",
        some_of(setdiff(names(table$cells), ".line"), 9), "; "
      )
    },
    if (length(table$sheets)) paste0("where each sheet is an arm: --sheet ", paste(table$sheets, collapse = ","), "; "),
    "of one machine alone: honestmargin describe FILE --arm NAME"
  ))
}
