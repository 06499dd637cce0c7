# Small things done with rows, quicker than data frames do them by themselves.

# rows by index, without the row names that data frames make up for repeated ones
take_rows <- function(table, at) {
  out <- lapply(table, `[`, at)
  attr(out, "row.names") <- .set_row_names(length(at))
  class(out) <- "data.frame"
  out
}

# those rows for which something holds; mostly all
rows_where <- function(table, holds) if (all(holds)) table else take_rows(table, which(holds))

# One number per combination of words: far quicker than pasting them.
joint_code <- function(...) {
  Reduce(function(code, column) {
    words <- unique(column)
    code * length(words) + match(column, words) - 1
  }, list(...), 0)
}

# parts of a vector or a table, in the order in which each first comes up
split_in_order <- function(x, ...) {
  code <- joint_code(...)
  split(x, factor(code, unique(code)))
}

# sums by word, named, in the order of the words
sum_by <- function(x, by) vapply(split(as.numeric(x), by), sum, 1)

# tables with the same columns or not, one below the other
stack_rows <- function(tables) {
  kept <- tables[vapply(tables, NROW, 1L) > 0]
  # of empty tables at least the columns
  tables <- if (length(kept)) kept else tables[!vapply(tables, is.null, NA)]
  if (length(tables) == 1) {
    return(as.data.frame(tables[[1]]))
  }
  if (length(tables)) data.table::setDF(data.table::rbindlist(tables, use.names = TRUE, fill = TRUE))
}

#' Lists of columns, one below the other; what has one value for all its rows is repeated, what one lacks is empty
#'
#' For a few short ones: it would take longer to load what stacks tables.
#' @noRd
stack_columns <- function(parts) {
  rows <- vapply(parts, function(part) max(lengths(part)), 1L)
  columns <- unique(unlist(lapply(parts, names)))
  lapply(stats::setNames(nm = columns), function(column) {
    each <- lapply(parts, .subset2, column)
    short <- which(lengths(each) != rows)
    each[short] <- Map(function(v, n) rep_len(if (is.null(v)) NA else v, n), each[short], rows[short])
    unlist(each, recursive = is.atomic(each[[1]]), use.names = FALSE)
  })
}

# an empty column where a table from elsewhere or of before has none
with_columns <- function(table, columns, value = NA) {
  for (column in setdiff(columns, names(table))) table[[column]] <- rep(value, nrow(table))
  table
}

# a table without the class and the attributes of what it was cut out of
plain_table <- function(x) {
  attributes(x) <- attributes(x)[c("names", "row.names")]
  class(x) <- "data.frame"
  x
}

# each row as a list
split_rows <- function(table) lapply(seq_len(nrow(table)), function(i) as.list(table[i, , drop = FALSE]))

# each row as a table of its own
each_row <- function(table) lapply(seq_len(NROW(table)), function(i) table[i, , drop = FALSE])
