# Columns of a wide table that are no numbers of a pass: the same in all, words, or differences.

# The same words in every row (a version, what the machine is called) tell no pass from another, nor does the same
# number of which nobody said what it is.
leave_same <- function(table, asked) {
  cells <- table$cells
  others <- setdiff(names(cells), c(reading_columns, ".line", asked))
  # a pass that failed has nothing there
  went_well <- empty_to(cells$outcome, NA) %in% c(NA, "ok")
  same <- others[vapply(others, function(name) {
    v <- cells[[name]][went_well]
    if (length(v) < 2 || length(unique(v)) > 1) {
      return(FALSE)
    }
    measured <- !is.na(direction_told(name)) || !is.na(better_from_unit(unit_said(name)$unit))
    # "1.2" in quotes is a version, unless it is called like a metric
    is_word(v[1]) || !measured && (name %in% table$strings && !is.na(v[1]) || length(v) > 3 && is_number_text(v[1]))
  }, NA)]
  # a number of each pass has to be left
  if (length(same) && !all(setdiff(names(cells), c(reading_columns, ".line")) %in% same)) {
    said <- vapply(cells[same], function(v) substr(plain_text(v[went_well][1]), 1, 30), "")
    table$cells <- cells[!names(cells) %in% same]
    table$findings <- bind_findings(
      table$findings, new_finding("note", "same_in_all", columns = paste0(same, " (", said, ")"))
    )
  }
  table
}

# neither a number, with a unit or without, nor how a pass ended
is_word <- function(text) {
  number <- sub("^([-+0-9.,:]+) *[[:alpha:]\u00b0%/]*$", "\\1", text)
  !is.na(text) & is.na(meant_by(tolower(text), words_of_ends)) &
    seq_along(text) %in% parse_typed_numbers(number)$bad
}

#' Words that go with the arm, or that each row has of its own (a command, a path), are no metric
#'
#' Words that come again within an arm may say what was run, which is asked; so may those of a table that go with the
#' arm, while results of passes that are told apart by their names say what they are besides.
#' @noRd
leave_words <- function(table) {
  cells <- table$cells
  others <- setdiff(names(cells), c(reading_columns, ".line"))
  words <- others[vapply(cells[others], function(v) !all(is.na(v)) && all(is_word(v[!is.na(v)])), NA)]
  kept <- setdiff(others, words)
  with_arm <- if (isTRUE(table$results)) words[vapply(cells[words], function(v) {
    !anyNA(v) && all(tapply(v, cells$arm, function(of) length(unique(of))) == 1)
  }, NA)]
  own <- words[vapply(cells[words], function(v) nrow(cells) > 3 && !anyDuplicated(v[!is.na(v)]), NA)]
  if (!length(kept) || !length(c(with_arm, own))) {
    return(table)
  }
  table$cells <- cells[!names(cells) %in% c(with_arm, own)]
  first <- match(unique(cells$arm), cells$arm)
  table$findings <- do.call(bind_findings, c(
    list(table$findings),
    lapply(with_arm, function(name) {
      new_finding("warning", "words_with_arm", column = name, words = plain_text(cells[[name]][first]))
    }),
    if (length(setdiff(own, with_arm))) {
      list(new_finding("note", "words_of_rows", columns = setdiff(own, with_arm)))
    }
  ))
  table
}

# what somebody worked out from the passes is no number of one
words_of_differences <- paste0(
  "(^|[^[:alpha:]])(vs|versus|diff|difference|delta|\u0394|change|improvement|gegen|gegen\u00fcber|unterschied|",
  "differenz|\u00e4nderung|ver\u00e4nderung|abweichung)($|[^[:alpha:]])"
)

#' Columns of differences in percent ("vs off", "Unterschied")
#' @noRd
leave_differences <- function(table, asked) {
  cells <- table$cells
  others <- setdiff(names(cells), c(reading_columns, ".line", asked))
  worked_out <- others[vapply(others, function(name) {
    v <- trimws(cells[[name]])
    v <- v[!is.na(v) & !v %in% c("", "-", "\u2013")]
    length(v) > 0 && grepl(words_of_differences, tolower(name)) && all(grepl("^[-+\u2212\u00b1]? ?[0-9.,]+ ?%$", v))
  }, NA)]
  if (length(worked_out) && length(worked_out) < length(others)) {
    table$cells <- cells[!names(cells) %in% worked_out]
    table$findings <- bind_findings(table$findings, new_finding("note", "differences_left", columns = worked_out))
  }
  table
}
