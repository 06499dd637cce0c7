# What the checks saw, in a terminal.

#' @export
print.honestmargin_checked <- function(x, ..., exploratory = FALSE) {
  writeLines(checked_lines(x, findings(x, exploratory = exploratory)))
  invisible(x)
}

checked_lines <- function(x, found) {
  c(
    if (nrow(found)) checked_findings(found) else "The checks saw nothing that matters.",
    "", "Every pass, as it ran:", "", checked_strips(x$passes, x$labels), "", strip_legend, shown_read(x)
  )
}

# gravest first; each with what to do on a line of its own
checked_findings <- function(found) {
  told <- placed_messages(found)
  paint_severity(unlist(lapply(seq_len(nrow(found)), function(i) {
    c(
      fold(told[i], first = sprintf("%-9s", found$severity[i]), rest = strrep(" ", 9)),
      if (nzchar(found$todo[i])) fold(paste("->", found$todo[i]), first = strrep(" ", 9), rest = strrep(" ", 12))
    )
  })))
}

checked_strips <- function(passes, told) {
  rows <- pass_strips(passes, told)
  name <- format(vapply(rows, `[[`, "", "name"))
  vapply(seq_along(rows), function(i) {
    paste0("  ", name[i], "  ", paste(rows[[i]]$marks, collapse = ""))
  }, "")
}
