# Why a verdict is what it is: codes with values, the words for which are made by
# those who tell it (`format()` of a list of codes, in `tell-codes.R`).

#' @param x List, one element per row: a list of codes.
#' @return An object of class `honestmargin_codes`: a list that can be a column.
#' @noRd
new_codes <- function(x) structure(x, class = "honestmargin_codes")

#' @export
`[.honestmargin_codes` <- function(x, i) new_codes(unclass(x)[i])

#' @export
as.character.honestmargin_codes <- function(x, ...) {
  vapply(
    x, function(codes) paste(code_names(codes), collapse = ";"), ""
  )
}

code_names <- function(codes) vapply(codes, `[[`, "", "code")

#' Does a row carry this code?
#' @noRd
has_code <- function(codes, code) vapply(codes, function(row) code %in% code_names(row), NA)

# the tester's own stops and what the tool did not see the end of are no failures of an arm
not_the_arms <- c("interrupted", "lost")

# A verdict on the passes that survived must say that others did not.
failure_codes <- function(passes, arm, baseline) {
  if (all(passes$outcome == "ok")) {
    return(NULL)
  }
  unlist(lapply(c(arm, baseline), function(a) {
    mine <- passes$outcome[passes$arm == a & passes$role == "counted" & !passes$outcome %in% not_the_arms]
    bad <- mine[!mine %in% c("ok", "artefact")]
    seen <- sum(mine == "artefact")
    list(
      if (length(bad)) new_code("failed", arm = a, n = length(bad), of = length(mine), kinds = as.list(table(bad))),
      if (seen) new_code("artefacts_in", arm = a, n = seen, of = length(mine))
    )
  }), recursive = FALSE)
}
