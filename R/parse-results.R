# Results of passes as programs leave them, a file for each: names and numbers, a line each; one row below a heading;
# a number alone.

#' Which of these files are results of passes, one each?
#'
#' All are built alike, short, and hold one pass: what a log of frames or a table of many passes cannot be. One that is
#' empty is of a pass that did not get so far.
#' @param paths Files.
#' @noRd
hold_results <- function(paths) {
  none <- rep(FALSE, length(paths))
  if (length(paths) < 2) {
    return(none)
  }
  json <- grepl(json_ending, paths, ignore.case = TRUE)
  size <- file.size(paths)
  short <- which(!json & grepl(output_ending, paths, ignore.case = TRUE) & !dir.exists(paths) & size %in% 1:20000)
  keys <- lapply(paths[short], keys_of_result)
  # what one pass wrote, another may lack
  usual <- unlist(keys)
  usual <- usual[duplicated(usual)]
  none[short] <- vapply(keys, function(k) any(k %in% usual), NA)
  none | json | size %in% 0 & any(none)
}

# one that is named like results and is none was meant as one
assert_results <- function(paths, hold) {
  shape <- gsub("[0-9]+", "0", sub(output_ending, "", basename(paths)))
  twin <- paths[!hold & shape %in% shape[hold]]
  if (length(twin) && mean(hold) > 0.5) {
    abort_input("holds no result as the others do", twin[1], "fix it or leave it out; or name those that are meant")
  }
}

# what the numbers of a result are called, `NULL` where it is none
keys_of_result <- function(path) {
  lines <- tryCatch(few_lines(path), error = function(e) NULL)
  if (!length(lines)) {
    return(NULL)
  }
  records <- printed_records(lines)
  if (!is.null(records)) {
    return(unique(unlist(lapply(records, function(named) names(named)[is_measured(named)]))))
  }
  if (length(lines) == 1 && is_measured(lines)) "value" else row_below_heading(lines)
}

# all its lines that hold something, where they are few
few_lines <- function(path, most = 200) {
  opened <- open_text(path, "result")
  if (opened$temporary) on.exit(unlink(opened$file))
  lines <- first_lines(opened$file, most + 1)
  if (length(lines) <= most) lines[has_text(lines)]
}

# a number, with its unit or without
is_measured <- function(text) {
  grepl("^[-+]?[0-9][0-9.,:]*\\s*[[:alpha:]\u00b0%]*(/[[:alpha:]]+)?$", as_clock(trimws(text)))
}

#' Names and what stands behind them, a line each: "Average FPS: 120.3", "load = 4.2 s", "1% low ..... 71"
#'
#' Lines that are built otherwise (titles, rules) are passed over where they are fewer.
#' @return Named character; `NULL` where these are no such lines, or hold no number.
#' @noRd
named_lines <- function(lines) {
  lines <- lines[grepl("[[:alnum:]]", lines)]
  shape <- "^\\s*(?:[-*]\\s+)?([^:=\t;,]*?[[:alpha:]%][^:=\t;,]*?)\\s*([:=]|[.]{2,}:?|\\s{2,}|\t)\\s*(\\S.*?)\\s*$"
  # "time (m:ss): 0:12.3" has its number behind the last of them
  late <- "^\\s*([^=\t;,]*[[:alpha:])%])(: )\\s*([-+]?[0-9][^ ]*(?: [^ ]+)?)\\s*$"
  parts <- regmatches(lines, regexec(shape, lines, perl = TRUE))
  again <- grepl(late, lines, perl = TRUE)
  parts[again] <- regmatches(lines[again], regexec(late, lines[again], perl = TRUE))
  parts <- parts[lengths(parts) > 0]
  if (!length(parts) || length(parts) < length(lines) / 2) {
    return(NULL)
  }
  name <- trimws(vapply(parts, `[`, "", 2))
  value <- vapply(parts, `[`, "", 4)
  said <- grepl("[:=.]", vapply(parts, `[`, "", 3))
  # blanks alone part a table too, but that has a heading
  sure <- all(said) || is_measured(value[1]) || any(names_a_metric(name[is_measured(value)]))
  if (sure && !anyDuplicated(tolower(name)) && any(is_measured(value))) stats::setNames(value, name)
}

#' The records of a text of names and numbers: one, or one for each scene where titles stand above the same names
#' @return List of named character, those of scenes with `workload`; `NULL` where it is no such text.
#' @noRd
printed_records <- function(lines) {
  named <- named_lines(lines)
  if (!is.null(named)) {
    return(list(named))
  }
  shape <- "^\\s*(?:\\[(.+)\\]|[=#*-]+ *([^=#*:]+?) *[=#*-]*:?|([^:=\t]+):)\\s*$"
  titles <- grepl(shape, lines, perl = TRUE) & grepl("[[:alnum:]]", lines)
  parts <- lapply(split(lines, cumsum(titles)), function(part) named_lines(part[!grepl(shape, part, perl = TRUE)]))
  title <- trimws(gsub(shape, "\\1\\2\\3", lines[titles], perl = TRUE))
  if (!titles[1]) title <- c(NA, title)
  keys <- unlist(lapply(parts, function(named) names(named)[is_measured(named)]))
  scene <- vapply(parts, function(named) any(names(named) %in% keys[duplicated(keys)]), NA) & !is.na(title)
  if (sum(scene) < 2 || anyDuplicated(title[scene])) {
    return(NULL)
  }
  # what stands outside them is of all
  shared <- unlist(unname(parts[!scene]))
  Map(
    function(named, scene) c(named, workload = scene, shared[setdiff(names(shared), c(names(named), "workload"))]),
    unname(parts[scene]), title[scene]
  )
}

# the headings of numbers, where one row stands below one heading
row_below_heading <- function(lines) {
  if (length(lines) != 2) {
    return(NULL)
  }
  separator <- separator_of(lines)
  fields <- if (is.na(separator)) as.list(trimws(lines)) else split_cells(lines, separator)
  if (length(unique(lengths(fields))) > 1) {
    return(NULL)
  }
  cells <- do.call(rbind, fields)
  cells <- replace(cells, !has_text(cells), NA)
  if (anyNA(cells[1, ]) || any(is_measured(cells[1, ]))) {
    return(NULL)
  }
  # one frame is what a log is left with where a program fell at once
  measured <- cells[1, which(is_measured(cells[2, ]))]
  if (length(measured) && !all(grepl(framelike, measured, ignore.case = TRUE))) measured
}

# one row, or of "Loop 1: 6018 points", "Loop 2: ..." one for each loop
rows_of_record <- function(named) {
  at <- grep("^(loop|schleife) *#? *[0-9]+$", names(named), ignore.case = TRUE)
  if (length(at) < 3) {
    return(list2DF(as.list(named), 1L))
  }
  list2DF(c(
    list(loop = gsub("[^0-9]", "", names(named)[at]), value = unname(named[at])),
    lapply(as.list(named[-at]), rep, length(at))
  ))
}

#' A result as rows of text, one for each scene
#' @noRd
cells_of_result <- function(path) {
  if (file.size(path) == 0) {
    return(data.frame(.line = 1L))
  }
  opened <- open_text(path, "result")
  if (opened$temporary) on.exit(unlink(opened$file))
  lines <- lines_of_table(opened$file)$lines
  if (is_json(lines, path)) {
    return(cells_of_json(lines, path, FALSE)$cells)
  }
  lines <- lines[has_text(lines)]
  records <- printed_records(lines)
  if (is.null(records) && length(lines) > 1) {
    return(headed_rows(grid_of_lines(lines, path)))
  }
  if (is.null(records)) records <- list(c(metric = "value", value = trimws(lines)))
  stack_rows(lapply(records, rows_of_record))
}

# one heading and the rows below, as a data frame of text
headed_rows <- function(grid) {
  cells <- as.data.frame(grid$cells[-1, , drop = FALSE])
  names <- grid$cells[1, ]
  names(cells) <- ifelse(is.na(names), paste("column", seq_along(names)), names)
  cells
}
