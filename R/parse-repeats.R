# Tables with a column for each pass: "run 1", "run 2", ...

# what a numbered column is called that holds one pass of each row
words_of_repeats <- c(
  "", "run", "pass", "test", "try", "trial", "rep", "repeat", "repetition", "attempt", "iteration", "measurement",
  "lauf", "durchlauf", "durchgang", "messung", "versuch", "wiederholung"
)

#' The columns of a table that are passes of its rows
#' @return A list: `columns`, `numbers`, `unit`, `summaries` (columns that sum them up), `metric` (heading of the words
#'   that say what each row measured, or none); `NULL` where it is no such table.
#' @noRd
repeats_of_columns <- function(cells, path) {
  others <- setdiff(names(cells), c(reading_columns, ".line"))
  bare <- without_unit(others)
  stem <- tolower(sub("[ _#.-]*[0-9]+$", "", bare))
  is_one <- grepl("[0-9]+$", bare) & stem %in% words_of_repeats & stem == stem[match(TRUE, stem %in% words_of_repeats)]
  if (sum(is_one) < 2 || "value" %in% names(cells)) {
    return(NULL)
  }
  beside <- setdiff(others[!is_one & !is_summary(others)], headed_as(others, "when"))
  words <- beside[!vapply(cells[beside], function(v) any(is_number_text(v)), NA)]
  if (length(beside) > length(words) || length(c(words, intersect("metric", names(cells)))) > 1) {
    odd <- c(setdiff(beside, words), words)[1]
    abort_input(
      paste0("column '", odd, "' stands beside numbered passes: ", some_of(others[is_one], 3)), path,
      "give each pass a row of its own, or leave that column out"
    )
  }
  units <- ifelse(bare[is_one] == others[is_one], NA, gsub("^.*[([]|[])]\\s*$", "", others[is_one]))
  list(
    columns = others[is_one], numbers = sub("^.*?([0-9]+)$", "\\1", bare[is_one], perl = TRUE),
    unit = if (length(unique(units)) == 1) units[1] else NA_character_,
    summaries = others[is_summary(others)], metric = words
  )
}

repeats_to_rows <- function(cells, found) {
  cells <- with_metric(cells, found)
  if (!"unit" %in% names(cells)) cells$unit <- found$unit
  rest <- cells[setdiff(names(cells), c(found$columns, found$summaries, found$metric, "pass"))]
  # two rows of one arm are passes of their own
  row <- intersect(c("arm", "workload", "segment", "context", "metric"), names(rest))
  again <- anyDuplicated(rest[row]) > 0
  parts <- Map(function(column, number) {
    there <- !is.na(cells[[column]])
    rows <- rest[there, , drop = FALSE]
    rows$pass <- paste0(rows$arm, rep(" ", nrow(rows)), if (again) paste0(rows$.line, "."), rep(number, nrow(rows)))
    rows$value <- cells[[column]][there]
    rows
  }, found$columns, found$numbers)
  do.call(rbind, unname(parts))
}

#' Rows sorted by arm whose repeats are numbered under the name of a round: which of both they are is asked
#'
#' Where the order is not known, rounds of all arms and repeats of one arm after the other are written alike.
#' @param columns What the tester said of columns.
#' @noRd
assert_rounds <- function(table, columns, path) {
  cells <- table$cells
  if (is.data.frame(path) || !all(c("arm", "block") %in% names(cells)) || any(c("order", "boot",
    "pass") %in% names(cells)) ||
    length(headed_as(names(cells), "when")) || "block" %in% names(columns) || anyNA(cells$arm) || anyNA(cells$block)) {
    return(invisible())
  }
  here <- intersect(c("workload", "segment", "context", "metric"), names(cells))
  place <- if (length(here)) do.call(paste, c(cells[here], sep = "\r")) else rep("", nrow(cells))
  sorted <- vapply(split(cells$arm, place), function(arm) {
    length(unique(arm)) > 1 && length(rle(arm)$lengths) == length(unique(arm)) && anyDuplicated(arm) > 0
  }, NA)
  if (any(sorted)) {
    known <- known_headings()
    heading <- table$given[heading_key(table$given) %in% c("block", known$heading[known$name %in% "block"])]
    heading <- empty_to(heading[1], "block")
    abort_needed(
      paste0("is '", heading, "' a round in which every arm ran once, or does it number the passes of each arm?"), path,
      paste0(
        "--columns block=", as_typed(heading), " where each round ran every arm; --columns pass=", as_typed(heading),
        " where it only numbers them; or add a column order (1, 2, 3 ... as they ran)"
      )
    )
  }
}

# loops share what their run was like: taken for passes they would show a noise that is none
assert_no_loops <- function(table, columns, path) {
  loops <- table$given[heading_key(table$given) %in% c("loop", "loops", "schleife", "schleifen")]
  if (length(loops) && !any(tolower(columns) %in% tolower(loops))) {
    abort_needed(
      paste0("loops of one run are no passes, and '", loops[1], "' numbers loops"),
      if (!is.data.frame(path)) some_of(path, 3), paste0(
        "give each run a row with its mean; --columns pass=", as_typed(loops[1]), " where each was started by itself"
      )
    )
  }
}
