# What the checks saw, in a terminal.

checked_lines <- function(x, exploratory = FALSE) {
  found <- findings(x, exploratory = exploratory)
  c(
    if (nrow(found)) grave_lines(found) else "The checks saw nothing that matters.",
    "", "Every pass, as it ran:", "", checked_strips(x$passes, labels_of(x)), "", strip_legend, shown_read(x)
  )
}

# gravest first; each with what to do on a line of its own
grave_lines <- function(found) {
  told <- placed_messages(found)
  paint_severity(unlist(lapply(seq_len(nrow(found)), function(i) {
    c(
      fold(told[i], first = sprintf("%-9s", found$severity[i]), rest = strrep(" ", 9)),
      if (nzchar(found$todo[i])) fold(paste("->", found$todo[i]), first = strrep(" ", 9), rest = strrep(" ", 12))
    )
  })))
}

checked_strips <- function(passes, labels) {
  rows <- pass_strips(passes, labels)
  name <- format(vapply(rows, `[[`, "", "name"))
  vapply(seq_along(rows), function(i) {
    paste0("  ", name[i], "  ", paste(rows[[i]]$marks, collapse = ""))
  }, "")
}

register("shown", "check", lines = checked_lines)
