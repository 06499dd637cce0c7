# Where in the distribution of frame times arms differ, in a terminal.

#' @export
print.honestmargin_frames <- function(x, ...) {
  rows <- plain_table(x)
  told <- labels_of(x)
  shown <- rows[round(rows$share, 3) %in% few_shares[few_shares != 0.9], , drop = FALSE]
  table <- data.frame(
    workload = place_names(shown), arm = arm_names(shown$arm, told), percentile = share_words_each(shown$share),
    baseline = paste(show_number(shown$baseline_ms, 3), "ms"), change = show_change(shown$change, "percent", "%"),
    range = ifelse(is.infinite(shown$upper), "not known yet", shown_interval(
      data.frame(lower = shown$lower, upper = shown$upper, scale = "percent", unit = "%")
    ))
  )
  writeLines(c(
    fold(frames_words(x), rest = "  "), "",
    table_lines(table, c("percentile", "baseline", "change"), group = c("workload", "arm")), "",
    fold(frames_footing(x), rest = "")
  ))
  invisible(x)
}

share_words_each <- function(share) vapply(share, share_words, "")
