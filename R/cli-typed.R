# Numbers typed on the command line: METRIC=VALUE.

typed_values <- function(words) {
  if (!length(words)) {
    return(NULL)
  }
  if (!all(grepl("=", words, fixed = TRUE))) {
    abort_usage(paste0(
      "'", words[!grepl("=", words)][1], "' is not METRIC=VALUE"
    ))
  }
  text <- sub("^[^=]*=", "", words)
  value <- vapply(text, function(t) {
    parsed <- parse_typed_numbers(t)
    if (length(parsed$bad) || is.na(parsed$value)) {
      abort_usage(
        paste0("'", plain_text(t), "' is not a number"),
        todo = "write 12.5, 1,234 or 1:05.2"
      )
    }
    parsed$value
  }, 1)
  stats::setNames(value, sub("=.*$", "", words))
}
