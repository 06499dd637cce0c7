# Answers as a person reads them in a terminal.

#' @export
print.honestmargin_answer <- function(x, ...) {
  if (is_whole_answer(x)) {
    writeLines(answer_shown(x, ...))
  } else {
    print(plain_table(x), ...)
  }
  invisible(x)
}

# an answer that a terminal shows in a way of its own registers that (`shown`)
answer_shown <- function(x, ...) {
  own <- registered("shown", attr(x, "question"))
  if (!is.null(own)) {
    return(own$lines(x, ...))
  }
  said <- answer_lines(x)
  footing <- answer_footing(x)
  found <- if (!is.null(attr(x, "findings"))) finding_lines(findings(x))
  c(
    bold(question_of(x)$title), if (length(said)) c("", said_shown(said)),
    unlist(lapply(answer_tables(x), table_shown)),
    if (length(footing)) c("", fold(footing, rest = "")),
    found, shown_read(x)
  )
}

# with what each part is about above it, where there are parts
said_shown <- function(said) {
  if (is.null(names(said))) {
    return(fold(unlist(said)))
  }
  parts <- lapply(names(said), function(name) c("", name, fold(said[[name]], first = "  ", rest = "    ")))
  unlist(parts)[-1]
}

table_shown <- function(one) {
  c(
    "", if (length(one$caption)) c(one$caption, ""),
    table_lines(one$table, one$right, whole = one$whole, group = one$group)
  )
}

#' @export
print.honestmargin_questions <- function(x, ...) {
  writeLines(question_lines(plain_table(x)))
  invisible(x)
}

# what can be answered, what would have to be given, and what does not arise
question_lines <- function(rows, study = NULL) {
  answered <- rows[!is.na(rows$answer), , drop = FALSE]
  open <- rows[is.na(rows$answer) & startsWith(rows$needs, "--"), , drop = FALSE]
  none <- rows[is.na(rows$answer) & !startsWith(rows$needs, "--"), , drop = FALSE]
  # the first three have verbs of their own
  further <- c(setdiff(answered$question, c("verdicts", "describe", "check")), "QUESTION")
  set <- function(name, text) {
    wide <- max(nchar(rows$question)) + 4
    fold_each(text, formatC(paste0("  ", name), width = -wide), strrep(" ", wide))
  }
  c(
    if (nrow(answered)) set(answered$question, answered$answer),
    if (nrow(open)) c("", "With an option:", set(open$question, open$needs)),
    if (nrow(none)) c("", "Not here:", set(none$question, none$needs)),
    "", paste0("Next: honestmargin ask ", empty_to(study, "STUDY"), " ", further[1])
  )
}

fold_each <- function(text, first, rest) {
  unlist(Map(function(t, f) fold(t, first = f, rest = rest), text, first), use.names = FALSE)
}
