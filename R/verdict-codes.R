# Why a verdict is what it is: codes with values, the words for which are made by
# those who tell it (`format()` of a list of codes, in `tell-codes.R`).

#' @param x List, one element per row: a list of codes.
#' @return An object of class `honestmargin_codes`: a list, and a column that whatever takes columns of lists takes.
#' @noRd
new_codes <- function(x) structure(unclass(x), class = c("honestmargin_codes", "list"))

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

#' One code in words
#' @noRd
code_text <- function(code) format(new_codes(list(list(code))))

#' How the counted passes of one cell ended, where some did not end well
#'
#' A verdict on the passes that survived must say that others did not, here or elsewhere.
#' @param passes A list `arm`, `role`, `outcome`.
#' @return Codes as a list by arm, `NULL` where every pass is well.
#' @noRd
failures_by_arm <- function(passes) {
  if (all(passes$outcome == "ok")) {
    return(NULL)
  }
  tried <- passes$role == "counted" & !passes$outcome %in% not_the_arms
  bad <- tried & !passes$outcome %in% outcomes_well
  seen <- tried & passes$outcome == "artefact"
  touched <- unique(passes$arm[bad | seen])
  lapply(stats::setNames(nm = touched), function(arm) {
    mine <- passes$arm == arm
    of <- sum(tried[mine])
    c(
      if (any(bad[mine])) {
        list(new_code("failed", arm = arm, n = sum(bad[mine]), of = of, kinds = counts_of(passes$outcome[mine & bad])))
      },
      if (any(seen[mine])) list(new_code("artefacts_in", arm = arm, n = sum(seen[mine]), of = of))
    )
  })
}

# how often each comes up, in order
counts_of <- function(words) {
  kinds <- unique(words)
  if (length(kinds) > 1) kinds <- sort(kinds)
  stats::setNames(as.list(tabulate(match(words, kinds), length(kinds))), kinds)
}

#' What is told of an arm wherever it is named: that it failed in another place
#'
#' @param verdicts Data frame of verdicts. @param outcomes From `count_outcomes()`.
#' @return `verdicts`, its `codes` completed.
#' @noRd
add_failures_elsewhere <- function(verdicts, outcomes) {
  bad <- outcomes[outcomes$failed > 0, , drop = FALSE]
  bad$place <- outcome_places(bad)
  of_arm <- split(seq_along(bad$arm), bad$arm)
  place <- place_names(verdicts[c("workload", "context")])
  elsewhere <- function(arm, here) {
    there <- of_arm[[arm]]
    there <- there[bad$place[there] != here]
    if (length(there)) {
      list(new_code("failed_elsewhere",
        arm = arm, n = sum(bad$failed[there]), of = sum(bad$tried[there]), places = bad$place[there]
      ))
    }
  }
  bad <- as.list(bad)
  arms <- c(verdicts$arm, verdicts$baseline)
  key <- joint_code(arms, c(place, place))
  once <- which(!duplicated(key))
  told <- Map(elsewhere, arms[once], c(place, place)[once])
  at <- matrix(match(key, key[once]), ncol = 2)
  codes <- unclass(verdicts$codes)
  touched <- which(matrix(lengths(told)[at] > 0, ncol = 2) %*% c(1, 1) > 0)
  codes[touched] <- lapply(touched, function(i) c(codes[[i]], told[[at[i, 1]]], told[[at[i, 2]]]))
  verdicts$codes <- new_codes(codes)
  verdicts
}
