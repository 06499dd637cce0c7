# Whatever holds readings, as a grid; several files or sheets of one arm each are read one by one.

#' @return A list: `grid`, or `read` (already read, as `read_grid()` gives it); `row` (what a row is called),
#'   `findings`.
#' @noRd
grid_of_input <- function(path, said, sheet, names) {
  if (is.data.frame(path)) {
    return(list(grid = grid_of_frame(plain_frame(path)), row = "row"))
  }
  if (length(sheet) && (length(path) > 1 || is.null(sheet_ending(path)))) {
    abort_usage("only a workbook has sheets", some_of(path, 3), "leave --sheet out (in R: sheet =)")
  }
  if (length(sheet) > 1) {
    grids <- lapply(sheet, function(s) list(grid = grid_of_sheet(path, s)$grid))
    return(read_arms(grids, sheet, said, new_finding("note", "sheets_of_arms", arms = sheet)))
  }
  if (length(path) > 1) {
    return(grid_of_files(path, said, names))
  }
  input <- grid_of_file(path, sheet, arms = is.null(said$arm))
  c(input, list(row = input$grid$row))
}

plain_frame <- function(x) {
  x <- as.data.frame(x)
  x[] <- lapply(x, function(v) if (is.list(v)) vapply(v, function(one) paste(format(one), collapse = " "), "") else v)
  if (!ncol(x) || !nrow(x)) abort_input("no rows", "data frame", "one row per pass and metric is needed")
  x
}

#' Files: each the table of one arm, or each the result of one pass
#' @noRd
grid_of_files <- function(paths, said, names) {
  hold <- hold_results(paths)
  if (!all(hold)) {
    assert_results(paths, hold)
    arms <- arms_of_files(paths)
    grids <- lapply(paths, grid_of_file, arms = FALSE)
    return(read_arms(grids, arms, said, new_finding("note", "tables_of_arms", arms = arms)))
  }
  warm <- warm_ups_among(names_apart(paths))
  left <- basename(paths[warm])
  paths <- paths[!warm]
  each <- on_all_cores(seq_along(paths), worth_it = length(paths) > 40, function(i) cells_of_result(paths[i]))
  grouped <- results_by_names(each, paths, names, said$baseline, said$columns)
  cells <- stack_rows(grouped$cells)
  cells$.line <- NULL
  grid <- grid_of_frame(cells, some_of(paths, 3), "result")
  # numbers that JSON holds are no typed ones
  grid$typed <- all(grepl(json_ending, paths, ignore.case = TRUE))
  grid$called <- paste(length(paths), "files")
  list(grid = grid, row = "result", findings = bind_findings(grouped$findings, if (any(warm)) {
    warm_ups_left("file", left)
  }))
}

grid_of_file <- function(path, sheet = NULL, arms = TRUE) {
  if (is.null(sheet_ending(path))) grid_of_text(path, arms = arms) else grid_of_sheet(path, sheet)
}

#' Tables of one arm each
#' @param inputs Each with `grid`.
#' @noRd
read_arms <- function(inputs, arms, said, labels) {
  said["baseline"] <- list(NULL)
  each <- Map(function(input, arm) {
    said$arm <- arm
    read_grid(input$grid, said)
  }, inputs, arms)
  rows <- lapply(each, function(read) {
    rows <- read$rows
    if (!is.null(rows)) rows$pass <- paste(rows$arm, rows$pass)
    rows
  })
  questions <- unlist(lapply(each, `[[`, "questions"), FALSE)
  list(
    read = list(
      rows = if (!length(questions)) stack_rows(rows), questions = questions,
      account = join_accounts(lapply(each, `[[`, "account")), findings = NULL
    ),
    row = inputs[[1]]$grid$row,
    findings = do.call(bind_findings, c(lapply(inputs, `[[`, "findings"), list(labels)))
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

#' Which arm and which pass results are of, by the names of their files where they do not say it
#'
#' Of several files of an arm, the records in each ran without a new start between them: the file is their boot.
#' @param cells List of data frames of text. @return A list: `cells`, `findings`.
#' @noRd
results_by_names <- function(cells, paths, names = NULL, baseline = NULL, columns = NULL) {
  # nobody runs so many passes without a new start
  many <- which(vapply(cells, nrow, 1L) > 500)
  if (length(many)) {
    abort_input(
      paste0(nrow(cells[[many[1]]]), " records in one file: these are frames or samples, and no passes"),
      paths[many[1]], "the frames of a pass are a log of its own: a file of text with one frame a line"
    )
  }
  files <- names_apart(paths)
  # most are headed alike, so each heading is looked at once
  headings <- unique(unlist(lapply(cells, names)))
  known <- stats::setNames(roles_of_headings(headings)$role, headings)
  roles <- lapply(cells, function(t) unname(known[names(t)]))
  said <- vapply(seq_along(cells), function(i) {
    "arm" %in% roles[[i]] || "arm" %in% names(columns) && columns[["arm"]] %in% names(cells[[i]])
  }, NA)
  if (any(said) && !all(said)) {
    abort_input("some say their arm, this one does not", paths[!said][1], "write it into each, or into none")
  }
  if (all(said)) {
    return(list(cells = Map(function(t, file, role) {
      if (!"pass" %in% role) t$pass <- if (nrow(t) > 1) paste0(file, " ", seq_len(nrow(t))) else rep(file, nrow(t))
      t
    }, cells, sub(output_ending, "", files, ignore.case = TRUE), roles)))
  }
  found <- group_said(files, names, baseline)
  assert_ended(cells, found, paths)
  timed <- any(vapply(roles, function(r) any(c("order", "block", "when") %in% r), NA))
  found <- turns_by_time(found, if (timed) rep(0, nrow(found)) else file.mtime(paths), seconds_of_output)
  # scenes of one pass are no passes
  several <- any(vapply(seq_along(cells), function(i) {
    place <- cells[[i]][roles[[i]] %in% c("workload", "segment", "context", part_roles)]
    anyDuplicated(do.call(paste, c(list(rep("", nrow(cells[[i]]))), unname(as.list(place)), sep = "\r"))) > 0
  }, NA))
  started <- several && anyDuplicated(found[c("arm", "workload")]) > 0
  has_place <- vapply(roles, function(r) "workload" %in% r, NA)
  # what the others say of themselves is true of one that failed before it could
  own <- unique(unlist(Map(function(t, r) t[r %in% "workload"], cells, roles)))
  if (length(own) == 1) found$workload <- own
  same <- said_alike(cells, roles)
  cells <- lapply(seq_along(cells), function(i) {
    t <- cells[[i]]
    for (name in setdiff(names(same), names(t))) t[[name]] <- rep(same[[name]], nrow(t))
    place <- has_place[i] || any(known[names(t)] %in% "workload")
    name_result(t, found[i, ], !place, several, started)
  })
  list(cells = cells, findings = bind_findings(
    findings_of_names(found, "results"), findings_of_said(found), if (started) new_finding("note", "records_of_file")
  ))
}

# where something ran, if all results that say it say the same
said_alike <- function(cells, roles) {
  named <- unique(unlist(Map(function(t, r) names(t)[r %in% c("workload", "context", "segment")], cells, roles)))
  words <- lapply(stats::setNames(nm = named), function(name) unique(unlist(lapply(cells, `[[`, name))))
  Filter(function(w) length(w) == 1, words)
}

name_result <- function(t, here, place, several, started) {
  n <- max(nrow(t), 1L)
  if (!nrow(t)) t <- data.frame(.line = 1L)
  t$arm <- here$arm
  if (place) t$workload <- here$workload
  if (!is.null(here$context)) t$context <- here$context
  if (!is.na(here$order)) t$order <- as.character(here$order)
  if (!is.na(here$block)) t$block <- as.character(here$block)
  id <- paste(here$arm, here$pass)
  if (started) t$boot <- id
  said <- intersect(c("outcome", "role", "reason"), names(here))
  t[setdiff(said, names(t))] <- here[setdiff(said, names(t))]
  # their own number of a pass counts within the file
  t$pass <- if (several) paste0(id, ".", seq_len(n)) else id
  t
}

# a result that is empty is that of a pass that failed, where its name says so
assert_ended <- function(cells, found, paths) {
  empty <- vapply(cells, function(t) !length(setdiff(names(t), ".line")), NA)
  open <- which(empty & empty_to(found$outcome, "ok") == "ok" & empty_to(found$role, "counted") == "counted")
  if (length(open)) {
    so_called <- sub("([.][^.]+)?$", "_crash\\1", basename(paths[open[1]]))
    abort_input(
      "the file is empty", paths[open[1]], paste("capture the pass again; if it failed, say so in the name:", so_called)
    )
  }
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

# scores alone, one a line; of so many more they would be frames
are_bare_numbers <- function(lines) length(lines) < 50 && all(is_number_cell(trimws(lines)))

framelike <- "frame|\\btime|\\bms\\b|\\bus\\b|\\bns\\b|delta|\\bdt\\b|between|zeit"
