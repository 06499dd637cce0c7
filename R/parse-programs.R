# Logs of all that was drawn on a machine: only the frames of one program are a pass.

#' The frames of one program, where a log names several
#'
#' @param file Path of the opened log. @param lines Its first lines. @param path What it is called in messages.
#' @param program The one that is meant, as a layout says, or `NULL`.
#' @return `NULL` where there is but one; else a list: `file` (a temporary one, in which the lines of others are empty,
#'   so that lines keep their numbers), `findings`.
#' @noRd
frames_of_program <- function(file, lines, path, program = NULL) {
  # most logs have no such column, and are not split to see that
  headed <- any(grepl(program_words, utils::head(lines, 40), ignore.case = TRUE))
  if (!headed && is.null(program)) {
    return(NULL)
  }
  sample <- split_sample(lines)
  at <- if (is.null(sample$ambiguous)) which(names_a_program(sample$names))
  if (!length(at)) {
    if (!is.null(program)) abort_input(paste0("no column says whose frames are '", program, "'"), path, "leave it out")
    return(NULL)
  }
  whose <- programs_of_rows(file, sample, at, !is.null(program))
  taken <- if (!is.null(whose)) taken_program(whose, program, path)
  if (is.null(taken) || all(whose$name %in% c(taken, NA))) {
    return(NULL)
  }
  all <- first_lines(file, -1)
  # the rows that tell whose they are, one after the other
  rows <- lines_below(all, sample$header_lines)
  if (length(rows) != nrow(whose$cells)) {
    abort_input("its rows and cells do not match in number", path, "split the log by program, or fix its lines")
  }
  all[rows[!whose$name %in% c(taken, NA)]] <- ""
  out <- tempfile(fileext = ".csv")
  writeLines(all, out, useBytes = TRUE)
  counts <- sort(table(whose$name), decreasing = TRUE)
  # what somebody has settled is no surprise
  list(file = out, findings = new_finding(if (is.null(program)) "warning" else "note", "several_programs",
    file = basename(path), taken = taken, frames = counts[[taken]], others = setdiff(names(counts), taken)
  ))
}

program_words <- "app|application|program|programm|process|prozess|exe|executable|pid|swap ?chain"

names_a_program <- function(heading) {
  grepl(paste0("^(", program_words, ")( ?(name|id|address))?$"), gsub("[ _.-]+", " ", tolower(trimws(heading))))
}

#' @param asked Whether somebody has said whose are meant.
#' @return A list: `name` (for each row whose it is, `NA` where it does not say), `cells`; `NULL` where nobody has to be
#'   asked, or the rows cannot be separated, which is said where they are read.
#' @noRd
programs_of_rows <- function(file, sample, at, asked) {
  cells <- if (!any(sample$uneven > sample$header_lines)) cells_of_even_rows(file, sample, at)
  if (is.null(cells)) cells <- cells_of_rows(file, sample, at)
  # nearly always there is one
  if (!asked && all(vapply(cells, function(v) length(unique(v)) < 2, NA))) {
    return(NULL)
  }
  name <- do.call(paste, cells)
  name[!has_text(name) | name == paste(sample$names[at], collapse = " ")] <- NA
  list(name = name, cells = cells)
}

# `fread()` is not asked to fill short rows: a stray quote far down then ends all of R
cells_of_even_rows <- function(file, sample, at) {
  tryCatch(
    data.table::fread(
      file = file, sep = delimiters[[sample$delimiter]], skip = sample$header_lines, header = FALSE, select = at,
      colClasses = "character", fill = FALSE, data.table = FALSE, showProgress = FALSE
    ),
    # it stops at a row that is torn, and warns of it
    warning = function(w) NULL, error = function(e) NULL
  )
}

cells_of_rows <- function(file, sample, at) {
  lines <- first_lines(file, -1)
  fields <- split_fields(lines[lines_below(lines, sample$header_lines)], sample$delimiter)
  cells <- lapply(at, function(i) empty_na(vapply(fields, `[`, "", i)))
  stats::setNames(as.data.frame(cells), sample$names[at])
}

# one that has nearly all frames is meant; of others nobody guesses
taken_program <- function(whose, program, path) {
  name <- whose$name
  if (!is.null(program)) {
    meant <- Reduce(`|`, lapply(whose$cells, function(v) tolower(v) == tolower(program))) | name %in% program
    meant <- meant & !is.na(name)
    if (!any(meant)) {
      there <- unique(unlist(whose$cells, use.names = FALSE))
      abort_input(paste0("no frames of '", program, "'"), path, did_you_mean(program, there))
    }
    name <- name[meant]
  }
  counts <- sort(table(name), decreasing = TRUE)
  if (counts[[1]] < 0.95 * sum(counts)) {
    # a number of a process is another at the next start
    most <- unlist(whose$cells[match(names(counts)[1], whose$name), ], use.names = FALSE)
    abort_input(
      paste0("it holds frames of several programs: ", some_of(paste0(names(counts), " (", counts, ")"), 4)), path,
      paste0(
        "say whose are meant in a layout (YAML), program: ", c(grep("[[:alpha:]]", most, value = TRUE), most)[1],
        ", given with layout =, or --layout"
      )
    )
  }
  names(counts)[1]
}
