# Files that hold what a program printed: one number of each counts.

#' @param pattern Named by its metric: a regular expression with one group. @param due Which files have to hold one.
#' @return A list: `value` (one number a file, its last), `findings` (where there are several).
#' @noRd
printed_numbers <- function(paths, pattern, due = TRUE) {
  if (is.null(names(pattern)) || !nzchar(names(pattern))) {
    abort_usage("the pattern is not named", todo = "name it after its metric: c(score = \"Total: ([0-9.]+)\")")
  }
  if (!is_pattern(pattern)) abort_usage(paste0("'", pattern, "' is no regular expression"), todo = "close its brackets")
  all <- lapply(paths, function(path) {
    opened <- open_text(path, "output")
    if (opened$temporary) on.exit(unlink(opened$file))
    all_matches(first_lines(opened$file, -1), pattern)
  })
  found <- vapply(all, function(hits) empty_to(utils::tail(hits, 1), NA_character_), "")
  # one convention for all of them: "1,234" alone has two readings
  value <- parse_typed_numbers(found)$value
  silent <- paths[is.na(value) & due]
  if (length(silent)) {
    abort_input(
      paste0("'", pattern, "' finds no number"), some_of(silent, 3),
      paste(
        "fix the pattern; a pass that ended without its number is a result: keep the others with --save, then",
        "honestmargin add --outcome crash"
      )
    )
  }
  list(value = value, findings = several_printed(names(pattern), paths, all))
}

# a pattern that fits three times may have found three passes
several_printed <- function(metric, paths, all) {
  several <- which(vapply(all, function(hits) length(unique(hits)) > 1, NA))
  if (length(several)) {
    shown <- vapply(several, function(i) {
      some <- paste(utils::head(all[[i]], 3), collapse = " / ")
      paste0(basename(paths[i]), ": ", some, if (length(all[[i]]) > 3) " ...")
    }, "")
    new_finding("warning", "printed_several", metric = metric, files = shown)
  }
}

score_judged <- function(metric, better) {
  better <- empty_to(better, direction_told(metric))
  if (is.na(better)) {
    abort_needed(
      paste0("is a higher or a lower '", metric, "' better?"),
      todo = paste0("--better ", metric, "=lower (or =higher); in R: better =")
    )
  }
  structure(paste0("  - {id: ", yaml_quoted(metric), ", better: ", better, ", primary: true}"), metric = metric)
}
