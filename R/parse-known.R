# Headings of the trade, in English and German: which column they are, or which unit a metric so called has.
# The table is a file (inst/headings/headings.csv), so that anyone can add to it.

known_headings <- function() {
  made_once("headings", function() {
    utils::read.csv(system.file("headings", "headings.csv", package = "honestmargin"),
      colClasses = "character", encoding = "UTF-8", na.strings = ""
    )
  })
}

heading_key <- function(text) gsub("\\s+", " ", tolower(trimws(without_unit(text))))

# "load time (s)"
without_unit <- function(heading) sub("\\s*[([][^([]+[])]\\s*$", "", heading)

#' What each text means, by lists of words that mean the same
#' @param words Named list. @return Names of it, `NA` for a text that is none of its words.
#' @noRd
meant_by <- function(text, words) rep(names(words), lengths(words))[match(text, unlist(words))]

#' Call columns by the words that are known here
#'
#' @param cells Data frame of text. @param columns Named character, as given: `arm = "Einstellung"`.
#' @return A list: `cells`, `findings` (which columns were taken for what).
#' @noRd
rename_columns <- function(cells, columns, path) {
  for (name in names(columns)) {
    at <- match(tolower(columns[[name]]), tolower(names(cells)))
    if (is.na(at)) {
      abort_input(
        paste0("no column '", columns[[name]], "'"), path,
        did_you_mean(columns[[name]], setdiff(names(cells), ".line"))
      )
    }
    if (!name %in% reading_columns) {
      abort_usage(
        paste0("--columns: '", name, "' is no column of readings"),
        todo = did_you_mean(name, reading_columns)
      )
    }
    if (name %in% names(cells) && names(cells)[at] != name) {
      abort_usage(paste0("--columns: there is a column '", name, "' already"), todo = "take it out of the file first")
    }
    names(cells)[at] <- name
  }
  known <- known_headings()
  known <- known[known$kind %in% c("column", "beside"), ]
  taken <- character()
  for (heading in setdiff(names(cells), c(reading_columns, ".line"))) {
    at <- match(heading_key(heading), known$heading)
    means <- known$name[at]
    if (heading_key(heading) %in% words_of_repeats && all(grepl("^[0-9]+$", cells[[heading]]))) means <- "pass"
    # what else may be compared, or was run, is that only beside the arm
    if (known$kind[at] %in% "beside" && !means %in% "pass") {
      if (!name_the_arm(names(cells)) || means == "workload" && any(is_number_text(cells[[heading]]))) next
    }
    # a column that is there under its own name keeps it
    if (is.na(means) || means %in% names(cells)) next
    names(cells)[match(heading, names(cells))] <- means
    taken <- c(taken, paste0("'", heading, "' as ", means))
  }
  list(cells = cells, findings = if (length(taken)) new_finding("note", "headings_taken", taken = taken))
}

#' Columns whose heading is of a kind: `note` (free text), `when` (the time at which a pass ran)
#' @noRd
headed_as <- function(names, kind) {
  known <- known_headings()
  names[heading_key(names) %in% known$heading[known$kind == kind]]
}

#' Is one of these headings that of the arm?
#' @noRd
name_the_arm <- function(headings) {
  known <- known_headings()
  any(heading_key(headings) %in% c("arm", known$heading[known$kind == "column" & known$name == "arm"]))
}

#' The unit that a name ends in, as programs write it: `latency_ms`, `avg.fps`; not `ops_per_ms`
#' @noRd
unit_of_tail <- function(name) {
  tail <- regmatches(name, regexec("[_. -](ms|us|ns|fps|FPS)$|_(s|sec|seconds)$", name))[[1]]
  if (!length(tail) || grepl("per[_. -]?[a-z]+$", name, ignore.case = TRUE)) {
    return(NA_character_)
  }
  if (nzchar(tail[2])) tolower(tail[2]) else "s"
}

#' The unit that a metric so called has, where it is a word of the trade; its direction follows from that
#' @return `NA` where nothing is said.
#' @noRd
unit_by_heading <- function(name) {
  known <- known_headings()
  known <- known[known$kind == "metric", ]
  known$unit[match(heading_key(name), known$heading)]
}

#' Is this heading known as a number that is measured?
#' @noRd
names_a_metric <- function(headings) {
  !is.na(vapply(headings, unit_by_heading, "")) | grepl("[([].+[])]\\s*$", headings) |
    headings %in% captured_ids() | !is.na(vapply(headings, better_from_name, "")) |
    !is.na(better_from_unit(headings))
}
