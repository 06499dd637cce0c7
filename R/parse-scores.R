# Numbers out of what a program printed or wrote.

#' The number a pattern finds, the last one where there are several
#'
#' @param lines Text.
#' @param pattern Regular expression with one group.
#' @return One number, `NA` where nothing fits.
#' @noRd
number_by_pattern <- function(lines, pattern) {
  hit <- last_match(lines, pattern)
  if (is.null(hit)) NA_real_ else parse_typed_numbers(hit)$value
}

#' What a pattern finds: its group, or all of it where it has none; the last hit
#' @return Text, or `NULL`.
#' @noRd
last_match <- function(lines, pattern) {
  utils::tail(all_matches(lines, pattern), 1)
}

# one of each line that fits
all_matches <- function(lines, pattern) {
  # a line on which the pattern gives up (too many ways to try) is a line without a hit
  hits <- suppressWarnings(grep(pattern, lines, perl = TRUE, value = TRUE))
  found <- suppressWarnings(regexec(pattern, hits, perl = TRUE))
  unlist(lapply(regmatches(hits, found), function(f) f[min(2, length(f))]))
}

#' The number at a path such as `result.passes[0].score`
#' @param data Nested list.
#' @noRd
number_by_path <- function(data, path) {
  steps <- strsplit(gsub("[[]([0-9]+)[]]", ".\\1", path), ".", fixed = TRUE)[[1]]
  for (step in steps[nzchar(steps)]) {
    index <- if (is.null(names(data)) && grepl("^[0-9]+$", step)) as.integer(step) + 1L else step
    present <- if (is.numeric(index)) index <= length(data) else index %in% names(data)
    if (!is.list(data) || !present) {
      return(NA_real_)
    }
    data <- data[[index]]
  }
  if (is.numeric(data) && length(data) == 1) as.numeric(data) else parse_typed_numbers(as.character(data)[1])$value
}
