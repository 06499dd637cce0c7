# Tables with a column for each arm.

#' The columns of a table that are its arms
#'
#' A spreadsheet may have a column for each arm. Without a column that says which arm a row is of it can mean nothing
#' else, unless a heading is known as a number of its own. One column of words says what each row measured.
#' @return A list: `arms` (headings, none where it is no such table), `metric` (heading of the words, or none).
#' @noRd
arms_of_columns <- function(cells) {
  others <- setdiff(names(cells), c(reading_columns, ".line"))
  # what counts the rows, or says when they were, is no arm
  beside <- vapply(cells[others], function(v) {
    identical(v, as.character(seq_along(v))) || time_kind(v) %in% c("stamp", "date", "clock")
  }, NA)
  others <- others[!beside]
  numbers <- vapply(cells[others], function(v) !length(parse_typed_numbers(v[!is.na(v)])$bad), NA)
  arms <- others[numbers]
  words <- others[!numbers]
  known <- !is.na(vapply(arms, unit_by_heading, "")) | grepl("[([].+[])]\\s*$", arms) |
    arms %in% captured_ids() | !is.na(vapply(arms, better_from_name, "")) | is_summary(arms)
  long <- any(c("arm", "value") %in% names(cells))
  # a log has more rows than anybody ran passes
  if (long || nrow(cells) > 500 || length(arms) < 2 || any(known)) {
    return(NULL)
  }
  # two that say what was measured are one too many
  if (length(c(words, intersect("metric", names(cells)))) < 2) list(arms = arms, metric = words)
}

arms_to_rows <- function(cells, found) {
  arms <- found$arms
  cells <- with_metric(cells, found)
  parts <- lapply(arms, function(arm) {
    rows <- cells[!is.na(cells[[arm]]), setdiff(names(cells), arms), drop = FALSE]
    # an arm that has not run yet has no row
    rows$pass <- paste(rep(arm, nrow(rows)), empty_to(rows$pass, as.character(rows$.line)))
    cbind(rows, arm = rep(arm, nrow(rows)), value = cells[[arm]][!is.na(cells[[arm]])])
  })
  do.call(rbind, parts)
}

# where nobody said what the numbers are, whoever knows which of them is better has to say
with_metric <- function(cells, found) {
  if (!"metric" %in% names(cells)) cells$metric <- if (length(found$metric)) cells[[found$metric]] else "value"
  cells
}
