# Rows that sum others up, and those that may.

#' Which rows that are called like a sum are one
#' @noRd
settle_sums <- function(sheet) {
  if (!length(sheet$summed)) {
    return(unnumbered_rows(sheet))
  }
  roles <- sheet$roles
  cells <- sheet$grid$cells
  labels <- which(roles$role %in% c("pass", "row number") | sheet$layout$kind == "parts" & roles$role %in% "arm")
  for (row in sheet$summed) {
    at <- which(is_summary(cells[row, ]) & sheet$kinds[row, ] == "word")
    word <- cells[row, at[1]]
    unlabelled <- length(labels) && all(is.na(cells[row, labels]))
    sum <- if (any(at %in% labels) || unlabelled ||
      all(roles$role[at] %in% c("order", "block", "when", "note", "empty"))) {
      TRUE
    } else {
      sums_rows(sheet, row, at[1])
    }
    if (isTRUE(sum)) {
      sheet <- leave_rows(sheet, row, paste0("'", word, "'"))
    } else if (isFALSE(sum)) {
      sheet$passes <- sort(c(sheet$passes, row))
    } else {
      sheet <- asking(sheet, new_question(
        "sum_row", paste0("is the row '", word, "' a sum of other rows?"),
        list(
          answer_choice("sum_row", "out", "yes; leave it out"),
          answer_choice("sum_row", "pass", "no, it is a pass")
        ), row
      ))
    }
  }
  unnumbered_rows(sheet)
}

# a row whose arm or workload is such a word: is it worked out from the rows above, or is an arm called so?
sums_rows <- function(sheet, row, at) {
  cells <- sheet$grid$cells
  said <- answered(sheet$said, "sum_row")
  if (!is.null(said)) {
    return(said == "out")
  }
  word <- cells[row, at]
  # an arm that is called so has as many passes as others
  counts <- table(cells[sheet$body, at])
  if (word %in% sheet$said$baseline || counts[[word]] > 1 && counts[[word]] == max(counts)) {
    return(FALSE)
  }
  numbers <- which(sheet$roles$role %in% c("value", "measured") & sheet$roles$type == "number")
  above <- sheet$passes[sheet$passes < row]
  fits <- vapply(numbers, function(j) {
    v <- read_numbers(cells[c(above, row), j], sheet$mark)$value
    sums_up(empty_na(cells[row, j]), v[length(v)], v[-length(v)], summary_key(word))
  }, NA)
  if (length(fits) && all(fits %in% TRUE)) TRUE else NA
}

#' Rows without the number of a pass beside numbered ones, and last rows that are the mean of those before: asked
#' @noRd
unnumbered_rows <- function(sheet) {
  pass <- which(sheet$roles$role %in% c("pass", "row number") & !is.na(sheet$roles$name))
  if (length(pass) == 1) {
    v <- sheet$grid$cells[sheet$passes, pass]
    # a word among numbers may be a sum that is spelt otherwise
    with_digits <- grepl("[0-9]", v) & !is.na(v)
    word <- !is.na(v) & !with_digits & !is_end(v) & !says_warm_up(v) & is.na(end_in_text(v))
    open <- sheet$passes[is.na(v) | word & mean(with_digits) > 0.5]
    said <- answered(sheet$said, "unnumbered")
    if (length(open) && is.null(said)) {
      sheet <- asking(sheet, new_question(
        "unnumbered", paste0(
          count_of(length(open), "row"), " of '", sheet$roles$name[pass], "' without a number of a pass (",
          sheet$grid$row, " ", some_of(sheet$grid$line[open]), ")"
        ),
        list(
          answer_choice("unnumbered", "out", "leave them out"),
          answer_choice("unnumbered", "pass", "they are passes too")
        ), open
      ))
    } else if (length(open) && said == "out") {
      sheet <- leave_rows(sheet, open, "no number of a pass")
    }
  }
  ask_mean_rows(sheet)
}

#' Is the last row of every arm the mean of those before it?
#' @noRd
ask_mean_rows <- function(sheet) {
  said <- answered(sheet$said, "mean_rows")
  numbers <- which(sheet$roles$role %in% c("value", "measured") & sheet$roles$type == "number")
  if (identical(said, "pass") || !length(numbers) || length(sheet$passes) > 5000) {
    return(sheet)
  }
  cells <- sheet$grid$cells
  value <- lapply(numbers, function(j) read_numbers(cells[sheet$passes, j], sheet$mark)$value)
  of <- split(seq_along(sheet$passes), row_keys(sheet, c("arm", "workload", "segment", "context", "metric")))
  last <- vapply(of, max, 1L)
  # mostly the first arm shows that there is none
  is_mean <- function(at) {
    n <- length(at)
    n > 3 && all(mapply(function(v, j) {
      length(unique(v[at])) > 1 && isTRUE(sums_up(cells[sheet$passes[at[n]], j], v[at[n]], v[at[-n]], "mean"))
    }, value, numbers))
  }
  for (at in of) {
    if (!is_mean(at)) {
      return(sheet)
    }
  }
  if (identical(said, "out")) {
    return(leave_rows(sheet, sheet$passes[last], "the mean of the rows above"))
  }
  asking(sheet, new_question(
    "mean_rows", "the last row of each arm is the mean of the rows above it",
    list(
      answer_choice("mean_rows", "out", "it is a mean; leave it out"),
      answer_choice("mean_rows", "pass", "it is a pass")
    ),
    sheet$passes[last]
  ))
}
