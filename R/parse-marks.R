# Marks of a pass as a small table.

#' Marks of a pass: `time_s` on the clock of its frames, `word`, `value`
#' @noRd
read_marks <- function(path) {
  cells <- read_text_table(path, "list of marks")$cells
  missing <- setdiff(names(no_marks()), names(cells))
  if (length(missing)) abort_input(paste0("no column '", missing[1], "'"), path, "marks have time_s, word and value")
  blank <- which(is.na(cells$word))
  if (length(blank)) {
    abort_input(
      "a mark without its word", c(path, paste("line", cells$.line[blank[1]])), some_of(mark_words, 9)
    )
  }
  wrong <- setdiff(cells$word, mark_words)
  if (length(wrong)) abort_input(paste0("'", wrong[1], "' is no mark"), path, did_you_mean(wrong[1], mark_words))
  time <- suppressWarnings(as.numeric(cells$time_s))
  bad <- which(!is.finite(time))
  if (length(bad)) {
    abort_input(
      paste0("'", plain_text(cells$time_s[bad[1]]), "' is no time in seconds"),
      c(path, paste("line", cells$.line[bad[1]])), "write digits and a decimal point"
    )
  }
  data.frame(time_s = time, word = cells$word, value = empty_na(cells$value))
}
