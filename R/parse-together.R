# Tables of one arm each, as one table.

#' The table that readings come in, whatever its form
#' @param path,columns,arm,sheet,names,baseline As in [read_readings()].
#' @return As `settle_sheet()` gives it.
#' @noRd
table_of_input <- function(path, columns, arm, sheet, names, baseline = NULL) {
  if (is.data.frame(path)) {
    return(settle_sheet(table_of_frame(path, "data frame"), columns, "data frame", arm))
  }
  if (length(sheet) && (length(path) > 1 || is.null(sheet_ending(path)))) {
    abort_usage("only a workbook has sheets", some_of(path, 3), "leave --sheet out (in R: sheet =)")
  }
  if (length(sheet) > 1) {
    sheets_together(path, sheet, columns)
  } else if (length(path) > 1) {
    tables_together(path, columns, names, baseline)
  } else {
    read <- if (length(sheet)) {
      read_sheet(path, "readings file", sheet)
    } else {
      read_text_table(path, "readings file", TRUE, is.null(arm))
    }
    settle_sheet(read, columns, path, arm)
  }
}

#' Read tables that hold one arm each, called by the names of their files; or results of passes
#' @param paths Paths; two at least. @param columns What columns are called.
#' @param names,baseline As in `group_names()`.
#' @return As `settle_sheet()` gives one.
#' @noRd
tables_together <- function(paths, columns, names = NULL, baseline = NULL) {
  hold <- hold_results(paths)
  results <- all(hold)
  if (!results) assert_results(paths, hold)
  warm <- if (results) warm_ups_among(names_apart(paths)) else rep(FALSE, length(paths))
  left <- basename(paths[warm])
  paths <- paths[!warm]
  arms <- if (!results) arms_of_files(paths)
  decimal <- if (results) decimal_of_results(paths)
  each <- on_all_cores(seq_along(paths), worth_it = length(paths) > 40, function(i) {
    read <- if (results) read_result(paths[i], decimal) else read_text_table(paths[i], "readings file", TRUE, FALSE)
    settle_sheet(read, columns, paths[i], arms[i])
  })
  grouped <- if (results) results_by_names(lapply(each, `[[`, "cells"), paths, names, baseline)
  told <- if (results) {
    bind_findings(grouped$findings, if (any(warm)) warm_ups_left("file", left))
  } else {
    new_finding("note", "tables_of_arms", arms = arms)
  }
  c(stack_tables(each, grouped$cells, told, paths), list(results = results))
}

#' The sheets of a workbook that hold one arm each, called by their names
#' @param sheets Names of sheets, two at least.
#' @noRd
sheets_together <- function(path, sheets, columns) {
  each <- lapply(sheets, function(sheet) {
    settle_sheet(read_sheet(path, "readings file", sheet), columns, c(path, paste("sheet", sheet)), sheet)
  })
  stack_tables(each, NULL, new_finding("note", "sheets_of_arms", arms = sheets), path)
}

#' @param each Settled tables. @param cells Theirs, where something was added to them.
#' @noRd
stack_tables <- function(each, cells, findings, paths) {
  # one column alone says nothing of its decimal mark
  alone <- vapply(each, function(table) isTRUE(table$alone), NA)
  decimal <- unique(vapply(if (all(alone)) each else each[!alone], `[[`, "", "decimal"))
  if (length(decimal) > 1) {
    abort_input(
      "some part their columns by commas, others do not, so one decimal mark cannot hold for all", some_of(paths, 3),
      "put them into one table with a column arm"
    )
  }
  of_any <- function(part) unique(unlist(lapply(each, `[[`, part)))
  list(
    cells = stack_rows(empty_to(cells, numbered_alike(lapply(each, `[[`, "cells")))), decimal = decimal,
    given = of_any("given"), row = each[[1]]$row, beside = of_any("beside"), strings = of_any("strings"),
    findings = bind_findings(do.call(bind_findings, lapply(each, `[[`, "findings")), findings)
  )
}

# where some number their passes, the others are numbered as they stand
numbered_alike <- function(cells) {
  numbered <- vapply(cells, function(t) "pass" %in% names(t), NA)
  if (!any(numbered)) {
    return(cells)
  }
  lapply(cells, function(t) if ("pass" %in% names(t)) t else cbind(t, pass = as.character(seq_len(nrow(t)))))
}

#' Which arm and which pass results are of, by the names of their files where they do not say it
#'
#' Of several files of an arm, the records in each ran without a new start between them: the file is their boot.
#' @return A list: `cells`, `findings`.
#' @noRd
results_by_names <- function(cells, paths, names = NULL, baseline = NULL) {
  # nobody runs so many passes without a new start
  many <- which(vapply(cells, nrow, 1L) > 500)
  if (length(many)) {
    abort_input(
      paste0(nrow(cells[[many[1]]]), " records in one file: these are frames or samples, and no passes"),
      paths[many[1]], "the frames of a pass are a log of its own: a file of text with one frame a line"
    )
  }
  files <- names_apart(paths)
  said <- vapply(cells, function(t) "arm" %in% names(t), NA)
  if (any(said) && !all(said)) {
    abort_input("some say their arm, this one does not", paths[!said][1], "write it into each, or into none")
  }
  if (all(said)) {
    return(list(cells = Map(function(t, file) {
      if (!"pass" %in% names(t)) t$pass <- if (nrow(t) > 1) paste0(file, " ", seq_len(nrow(t))) else file
      t
    }, cells, sub(output_ending, "", files, ignore.case = TRUE))))
  }
  found <- group_said(files, names, baseline)
  assert_ended(cells, found, paths)
  timed <- any(vapply(cells, function(t) any(c("order", "block", headed_as(names(t), "when")) %in% names(t)), NA))
  found <- turns_by_time(found, if (timed) rep(0, nrow(found)) else file.mtime(paths), seconds_of_output)
  # scenes of one pass are no passes
  several <- any(vapply(cells, function(t) {
    place <- c(list(rep("", nrow(t))), unname(as.list(t[intersect(c("workload", "segment", "context"), names(t))])))
    anyDuplicated(do.call(paste, c(place, sep = "\r"))) > 0
  }, NA))
  started <- several && anyDuplicated(found[c("arm", "workload")]) > 0
  # what the others say of themselves is true of one that failed before it could
  own <- unique(unlist(lapply(cells, `[[`, "workload")))
  if (length(own) == 1) found$workload <- own
  cells <- lapply(seq_along(cells), function(i) {
    t <- cells[[i]]
    here <- found[i, ]
    t$arm <- here$arm
    if (!"workload" %in% names(t)) t$workload <- here$workload
    if (!is.na(here$order)) t$order <- as.character(here$order)
    if (!is.na(here$block)) t$block <- as.character(here$block)
    id <- paste(here$arm, here$pass)
    if (started) t$boot <- id
    said <- intersect(c("outcome", "role", "reason"), names(here))
    t[setdiff(said, names(t))] <- here[setdiff(said, names(t))]
    t$pass <- if (several) paste0(id, ".", seq_len(nrow(t))) else id
    t
  })
  list(cells = cells, findings = bind_findings(
    findings_of_names(found, "results"), findings_of_said(found), if (started) new_finding("note", "records_of_file")
  ))
}

# a result that is empty is that of a pass that failed, where its name says so
assert_ended <- function(cells, found, paths) {
  empty <- vapply(cells, function(t) identical(names(t), ".line"), NA)
  open <- which(empty & empty_to(found$outcome, "ok") == "ok" & empty_to(found$role, "counted") == "counted")
  if (length(open)) {
    so_called <- sub("([.][^.]+)?$", "_crash\\1", basename(paths[open[1]]))
    abort_input(
      "the file is empty", paths[open[1]], paste("capture the pass again; if it failed, say so in the name:", so_called)
    )
  }
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
#' A few rows, alone or under headings that speak of neither frames nor time; what could be a short log of frames is
#' none.
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
  words <- vapply(heads, function(lines) grepl("[[:alpha:]]", lines[1]) || are_bare_numbers(lines), NA)
  frames <- vapply(heads, function(lines) grepl(framelike, lines[1], ignore.case = TRUE), NA)
  # a table that says its arms is one by itself
  says <- vapply(heads, function(lines) name_the_arm(gsub("\"", "", strsplit(lines[1], "[;,\t]")[[1]])), NA)
  !anyDuplicated(numbered) && all(words) && !any(says) && (length(columns) > 0 || !any(frames))
}

framelike <- "frame|\\btime|\\bms\\b|\\bus\\b|\\bns\\b|delta|\\bdt\\b|between|zeit"
