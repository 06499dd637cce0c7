# Tables of one arm each, as one table.

#' Read tables that hold one arm each, called by the names of their files
#' @param paths Paths; two at least. @param columns What columns are called.
#' @return As `settle_sheet()` gives one.
#' @noRd
tables_together <- function(paths, columns) {
  arms <- arms_of_files(paths)
  each <- Map(function(path, arm) settle_sheet(read_text_table(path, "readings file", TRUE), columns, path, arm),
    paths, arms,
    USE.NAMES = FALSE
  )
  # one column alone says nothing of its decimal mark
  alone <- vapply(each, function(table) isTRUE(table$alone), NA)
  decimal <- unique(vapply(if (all(alone)) each else each[!alone], `[[`, "", "decimal"))
  if (length(decimal) > 1) {
    abort_input(
      "some part their columns by commas, others do not, so one decimal mark cannot hold for all", some_of(paths, 3),
      "put them into one table with a column arm"
    )
  }
  cells <- lapply(each, `[[`, "cells")
  # where some number their passes, the others are numbered as they stand
  if (any(vapply(cells, function(t) "pass" %in% names(t), NA))) {
    cells <- lapply(cells, function(t) if ("pass" %in% names(t)) t else cbind(t, pass = as.character(seq_len(nrow(t)))))
  }
  list(
    cells = stack_rows(cells), decimal = decimal,
    given = unique(unlist(lapply(each, `[[`, "given"))),
    findings = bind_findings(
      do.call(bind_findings, lapply(each, `[[`, "findings")), new_finding("note", "tables_of_arms", arms = arms)
    )
  )
}

arms_of_files <- function(paths) {
  arms <- sub("[.](gz|zip)$", "", basename(paths), ignore.case = TRUE)
  arms <- sub("[.][A-Za-z]+$", "", arms)
  twice <- arms[duplicated(arms)]
  if (length(twice)) {
    abort_input(paste0("two files are called '", twice[1], "'"), NULL, "each names its arm: give each its own name")
  }
  arms
}

#' Are these tables of scores, one an arm?
#'
#' A few rows under headings that speak of neither frames nor time; what could be a short log of frames is none.
#' @param paths Files. @param columns Named, where somebody said that they are tables.
#' @noRd
are_arm_tables <- function(paths, columns = NULL) {
  heads <- lapply(paths, function(path) {
    none <- function(e) character()
    lines <- tryCatch(readLines(path, n = 60, warn = FALSE), error = none, warning = none)
    if (length(lines) < 60 && all(validUTF8(lines))) lines[has_text(lines)]
  })
  if (length(paths) < 2 || !all(lengths(heads) > 1) || anyDuplicated(basename(paths))) {
    return(FALSE)
  }
  # several of one name, numbered, are passes and not arms
  numbered <- sub("[0-9]+[)]?[.][A-Za-z.]+$", "", basename(paths))
  words <- vapply(heads, function(lines) grepl("[[:alpha:]]", lines[1]), NA)
  frames <- vapply(heads, function(lines) grepl(framelike, lines[1], ignore.case = TRUE), NA)
  # a table that says its arms is one by itself
  says <- vapply(heads, function(lines) {
    key <- heading_key(gsub("\"", "", strsplit(lines[1], "[;,\t]")[[1]]))
    known <- known_headings()
    any(key %in% c("arm", known$heading[known$kind == "column" & known$name == "arm"]))
  }, NA)
  !anyDuplicated(numbered) && all(words) && !any(says) && (length(columns) > 0 || !any(frames))
}

framelike <- "frame|\\btime|\\bms\\b|\\bus\\b|\\bns\\b|delta|\\bdt\\b|between|zeit"
