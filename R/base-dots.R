# An argument that is spelt wrongly must not vanish in the dots.

#' @param ... The dots of the function that calls this, which takes none.
#' @noRd
assert_no_dots <- function(...) {
  if (!...length()) {
    return(invisible())
  }
  known <- setdiff(names(formals(sys.function(-1))), "...")
  given <- c(...names(), "")[1]
  if (is.na(given) || !nzchar(given)) {
    abort_usage("an argument too many", todo = paste0("name it; there are: ", paste(known, collapse = ", ")))
  }
  abort_usage(paste0("unknown argument '", given, "'"), todo = did_you_mean(given, known))
}
