# What each of many options changes, in a terminal.

#' @export
print.honestmargin_screen <- function(x, ...) {
  writeLines(screen_lines(x))
  invisible(x)
}

screen_lines <- function(x) {
  told <- labels_of(x)
  c(
    if (nzchar(told$question)) c(fold(told$question, rest = ""), ""), fold(screen_words(x)), "",
    table_lines(screen_shown(x), "rank", whole = c("option", "change", "interval"), group = c("workload", "metric")),
    "", fold(screen_footing(x), rest = ""), finding_lines(findings(x))
  )
}

# both ways side by side, whichever is planned
way_lines <- function(plan, ways) {
  aliases <- if (is_together(plan)) screen_aliases(screen_levels(plan))
  c(
    table_lines(ways_shown(ways, ways$scale[1]), c("passes of each workload", "would find")), "",
    fold(paste0(
      "Planned: ", plan$screen$way, if (isTRUE(plan$screen$fold_over)) ", folded over", ", ",
      count_of(plan$blocks, "block"),
      ". would find: the smallest effect found four times in five, if one pass varies by ",
      show_number(ways$noise[1], 2),
      if (ways$scale[1] == "percent") " %", ".", if (NROW(aliases)) alias_words(aliases)
    ), rest = "")
  )
}
