# The one place that makes words of codes. A code has one or two texts: what was
# seen, and what to do. `{x}` stands for the value x of the code, `{n|pass|passes}` for
# a count with its noun. A function takes the values and gives the texts.

# files of the name `tell-codes-*` hold the words and are read before this one
code_words <- list2env(c(
  words_of_checks, words_of_events, words_of_files, words_of_passes, words_of_studies, words_of_verdicts, words_of_runs
))

#' The texts of a code: what was seen, and what to do
#' @return Two texts, the second empty where there is nothing to do.
#' @noRd
words_of <- function(code, values) {
  before <- options(plain_numbers)
  on.exit(options(before))
  texts <- code_words[[code]]
  if (is.null(texts)) texts <- unlist(lapply(registered("check"), function(check) check$words[code]), use.names = FALSE)
  if (is.null(texts)) texts <- code
  texts <- if (is.function(texts)) texts(values) else vapply(texts, fill_words, "", values = values, USE.NAMES = FALSE)
  c(texts, "")[1:2]
}

# what was seen, without what to do; most codes of many rows have a function for it
first_words <- function(one) {
  texts <- code_words[[one$code]]
  if (is.function(texts)) texts(one$values)[1] else words_of(one$code, one$values)[1]
}

fill_words <- function(template, values) {
  marks <- unique(regmatches(template, gregexpr("[{][a-z_]+([|][^}]*)?[}]", template))[[1]])
  for (mark in marks) {
    name <- strsplit(gsub("[{}]", "", mark), "|", fixed = TRUE)[[1]]
    value <- values[[name[1]]]
    said <- if (length(name) > 1) do.call(count_of, as.list(c(value, name[-1]))) else show_value(value)
    template <- gsub(mark, said, template, fixed = TRUE)
  }
  template
}

show_step <- function(step) if (step == signif(step, 3)) show_exact(step) else show_number(step)

show_value <- function(value) {
  if (is.character(value)) {
    return(some_of(value, 9))
  }
  whole <- is.numeric(value) && all(value == round(value), na.rm = TRUE) && all(abs(value) < 1e9, na.rm = TRUE)
  some_of(if (!is.numeric(value) || whole) show_exact(value) else show_number(value))
}

#' @export
format.honestmargin_codes <- function(x, ...) {
  before <- options(plain_numbers)
  on.exit(options(before))
  each <- unlist(unclass(x), recursive = FALSE)
  # one and the same code stands in many rows, and is worded once
  first <- first_same(each)
  once <- unique(first)
  texts <- vapply(each[once], first_words, "")[match(first, once)]
  row <- rep(seq_along(x), lengths(unclass(x)))
  out <- rep("", length(x))
  said <- split(unname(texts), row)
  out[as.integer(names(said))] <- vapply(said, paste, "", collapse = "; ")
  out
}
