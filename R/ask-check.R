# Can these passes be believed? What all checks saw, by finding and by pass.

#' What the checks saw
#'
#' @param x A study, a readings table, or what [weigh()] made of one.
#' @param ... Passed to [weigh()] where `x` is not weighed yet: what is judged decides which matters matter.
#' @return An answer (see [as.data.frame.honestmargin_answer()], which gives the findings in words, with what to do, as
#'   [findings()] does), a list: `passes` (data frame, one row per pass: `pass`, `part`, `workload`, `context`, `arm`,
#'   `block`, `outcome`, `role`, `gravest`: the severity of what concerns this pass alone, or `NA`, and `seen`: its
#'   codes).
#'   Nothing that is found changes a number, but that copies count once.
#' @section Errors: As [weigh()], but a study that cannot be weighed yet is checked all the same.
#' @seealso [new_check()] for checks of your own.
#' @export
#' @examples
#' check_passes(read_study(demo_study()))
check_passes <- function(x, ...) {
  nothing <- function(e) NULL
  verdicts <- tryCatch(weighed(x, ...), honestmargin_error_input = nothing, honestmargin_error_needed = nothing)
  x <- what_was_weighed(x)
  found <- findings_of(empty_to(verdicts, x))
  passes <- checked_passes(passes_of(x), found)
  of <- if (is.null(verdicts)) x else attr(verdicts, "weighed")
  new_answer("check", list(passes = passes), of, findings = found, verdicts = verdicts)
}

#' The passes that each finding is about: its own, or those that it names in its values
#' @return A list of character vectors.
#' @noRd
passes_meant <- function(found) {
  named <- found$code %in% c("copied", "appended", "two_paces")
  own <- function(pass, values, several) if (several) values$passes else pass[!is.na(pass)]
  Map(own, found$pass, found$values, named)
}

checked_passes <- function(passes, found) {
  meant <- passes_meant(found)
  at <- rep(seq_along(meant), lengths(meant))
  seen <- data.frame(
    pass = as.character(unlist(meant)), severity = found$severity[at], code = found$code[at],
    workload = found$workload[at]
  )
  columns <- c("pass", "part", "workload", "context", "arm", "block", "outcome", "role")
  out <- with_columns(plain_table(passes), columns)[columns]
  # runs of several workloads may be numbered alike
  out <- out[!duplicated(pass_key(out)), , drop = FALSE]
  by_pass <- lapply(seq_len(nrow(out)), function(i) {
    which(seen$pass == out$pass[i] & (is.na(seen$workload) | seen$workload == out$workload[i]))
  })
  gravest <- function(at) c(severities[severities %in% seen$severity[at]], NA)[1]
  out$gravest <- vapply(by_pass, gravest, "", USE.NAMES = FALSE)
  out$seen <- unname(lapply(by_pass, function(at) unique(seen$code[at])))
  rownames(out) <- NULL
  out
}

checked_findings <- function(x, exploratory = FALSE) {
  verdicts <- attr(x, "verdicts")
  if (is.null(verdicts)) in_words(findings_of(x)) else findings(verdicts, exploratory = exploratory)
}

register("question", "check",
  rank = 0.7, title = "What the checks saw", about = "whether these passes can be believed",
  answer = check_passes, takes = "weighing", findings = checked_findings,
  tidy = function(x) plain_table(findings(x)),
  lines = function(x) {
    found <- checked_findings(x)
    if (nrow(found)) paste0(found$severity, ": ", placed_messages(found)) else "The checks saw nothing that matters."
  },
  line = function(x) {
    count <- table(factor(checked_findings(x)$severity, severities))
    count <- count[count > 0]
    if (length(count)) list_words(mapply(count_of, count, names(count))) else "nothing that matters was seen"
  }
)
