# Tables with a column for each arm.

#' The columns of a table that are its arms
#'
#' A spreadsheet may have a column for each arm. Without a column that says which arm a row is of it can mean nothing
#' else, unless a heading is known as a number of its own. One column of words says what each row measured.
#' @return A list: `arms` (headings, none where it is no such table), `metric` (heading of the words, or none), `beside`
#'   (headings of words that say where, by what they are).
#' @noRd
arms_of_columns <- function(cells) {
  others <- setdiff(names(cells), c(reading_columns, ".line"))
  # what counts the rows, or says when they were, is no arm
  beside <- vapply(cells[others], function(v) {
    identical(v, as.character(seq_along(v))) || time_kind(v) %in% c("stamp", "date", "clock")
  }, NA)
  others <- others[!beside]
  # how a pass ended stands in place of its number
  numbers <- vapply(cells[others], function(v) {
    !length(parse_typed_numbers(v[!is.na(v) & is.na(meant_by(tolower(v), words_of_ends))])$bad)
  }, NA)
  arms <- others[numbers]
  words <- others[!numbers]
  known <- names_a_metric(arms) | is_summary(arms)
  long <- any(c("arm", "value") %in% names(cells))
  # a log has more rows than anybody ran passes
  if (long || nrow(cells) > 500 || length(arms) < 2 || any(known)) {
    return(NULL)
  }
  # a preset, a scenario
  beside <- besides_the_arm(words, names(cells))
  words <- setdiff(words, beside)
  # two that say what was measured are one too many
  if (length(c(words, intersect("metric", names(cells)))) > 1) {
    return(NULL)
  }
  numbered <- passes_of_arms(arms)
  list(arms = arms, metric = words, beside = beside, arm = empty_to(numbered$arm, arms), number = numbered$number)
}

# named by what each is, where no column is that already; what was run may be what was measured, if nothing else is
besides_the_arm <- function(headings, names) {
  known <- known_headings()
  known <- known[known$kind == "beside", ]
  means <- known$name[match(heading_key(headings), known$heading)]
  kept <- !is.na(means) & !means %in% names & !duplicated(means)
  if (sum(!(kept & means %in% "context")) < 2) kept <- kept & means %in% "context"
  stats::setNames(headings[kept], means[kept])
}

#' Headings such as "off 1", "off 2", "on 1", "on 2": the passes of several arms
#' @return A list: `arm`, `number`, one for each; `NULL` where they are no such.
#' @noRd
passes_of_arms <- function(headings) {
  mark <- paste0("([ _#.-]+(", paste(words_of_repeats[-1], collapse = "|"), "))?[ _#.-]*[0-9]+$")
  arm <- trimws(sub(mark, "", headings, ignore.case = TRUE, perl = TRUE))
  number <- suppressWarnings(as.integer(sub("^.*?([0-9]+)$", "\\1", headings, perl = TRUE)))
  counted <- tapply(number, arm, function(n) length(n) > 1 && identical(sort(n), seq_along(n)))
  if (length(counted) > 1 && all(nzchar(arm)) && all(counted %in% TRUE)) list(arm = arm, number = number)
}

arms_to_rows <- function(cells, found) {
  names(cells)[match(found$beside, names(cells))] <- names(found$beside)
  cells <- with_metric(cells, found)
  # each column is one pass, or, where a metric comes again, each row of it
  what <- intersect(c("workload", "context", "metric"), names(cells))
  whole <- length(found$number) > 0 && !anyDuplicated(cells[what])
  parts <- lapply(seq_along(found$arms), function(i) {
    column <- found$arms[i]
    rows <- cells[!is.na(cells[[column]]), setdiff(names(cells), found$arms), drop = FALSE]
    # an arm that has not run yet has no row
    named <- rep(column, nrow(rows))
    # a pass runs in one context
    own <- if (!whole) empty_to(rows$pass, rows$.line) else rows$context
    rows$pass <- if (is.null(own)) named else paste(named, own)
    cbind(rows, arm = rep(found$arm[i], nrow(rows)), value = cells[[column]][!is.na(cells[[column]])])
  })
  do.call(rbind, parts)
}

# where nobody said what the numbers are, whoever knows which of them is better has to say
with_metric <- function(cells, found) {
  if (!"metric" %in% names(cells)) cells$metric <- if (length(found$metric)) cells[[found$metric]] else "value"
  cells
}
