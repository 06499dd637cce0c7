# Text to compress in the live demo: made up, the same on every machine.

#' @param path Where to.
#' @param megabytes About how much.
#' @noRd
write_sample_text <- function(path, megabytes = 12) {
  text <- seeded(7, {
    words <- vapply(seq_len(4000), function(i) paste(sample(letters, sample(2:9, 1), TRUE), collapse = ""), "")
    paste(sample(words, megabytes * 160000, TRUE, prob = 1 / seq_along(words)), collapse = " ")
  })
  write_whole(path, function(to) writeLines(text, to))
}
