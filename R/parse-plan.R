# Plans are read one way, whether they are looked at, sealed or run.

#' @param path Path of a plan, or of a study folder that holds `study.yml`.
#' @return The plan, with the text that is sealed in the attribute `text`.
#' @noRd
read_plan <- function(path) {
  if (dir.exists(path)) {
    folder <- path
    path <- file.path(folder, "study.yml")
    if (!file.exists(path)) {
      abort_input("no study.yml in this folder", folder, "write the plan there: honestmargin start FOLDER")
    }
  }
  opened <- open_text(path, "plan")
  if (opened$temporary) on.exit(unlink(opened$file))
  parse_plan(first_lines(opened$file, -1), path)
}

#' A plan from its text
#' @param text Lines, or one text with line feeds. @param source What to call it in messages.
#' @noRd
parse_plan <- function(text, source) {
  text <- paste(text, collapse = "\n")
  parsed <- parse_yaml_lines(strsplit(text, "\n", fixed = TRUE)[[1]], source, written = TRUE)
  new_plan(parsed$value, parsed$line, source, text)
}
