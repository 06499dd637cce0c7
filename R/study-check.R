# Can these passes be believed? What all checks saw, by finding and by pass.

#' What the checks saw
#'
#' @param x A study, a readings table, or what [weigh()] made of one.
#' @param ... Passed to [weigh()] where `x` is not weighed yet: what is judged decides which matters matter.
#' @return An object of class `honestmargin_checked`, a list: `findings` (codes; [findings()] gives them in words, with
#'   what to do), `passes` (data frame, one row per pass: `pass`, `part`, `workload`, `context`, `arm`, `block`,
#'   `outcome`, `role`, `gravest`: the severity of what concerns this pass alone, or `NA`, and `seen`: its codes).
#'   Nothing that is found changes a number.
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
  structure(
    list(findings = found, passes = passes, verdicts = verdicts, labels = plan_labels(if (is_study(x)) x$plan)),
    class = "honestmargin_checked"
  )
}

of_several <- c("copied", "two_paces")

checked_passes <- function(passes, found) {
  own <- found[!is.na(found$pass), , drop = FALSE]
  # what is of several passes names them in its values
  named <- lapply(which(found$code %in% of_several), function(i) {
    data.frame(pass = found$values[[i]]$passes, severity = found$severity[i], code = found$code[i])
  })
  seen <- stack_rows(c(list(plain_table(own)[c("pass", "severity", "code")]), named))
  columns <- c("pass", "part", "workload", "context", "arm", "block", "outcome", "role")
  out <- with_columns(plain_table(passes), columns)[columns]
  out <- out[!duplicated(paste(out$pass, out$part)), , drop = FALSE]
  by_pass <- split(seq_len(NROW(seen)), factor(seen$pass, unique(out$pass)))[out$pass]
  gravest <- function(at) c(severities[severities %in% seen$severity[at]], NA)[1]
  out$gravest <- vapply(by_pass, gravest, "", USE.NAMES = FALSE)
  out$seen <- unname(lapply(by_pass, function(at) unique(seen$code[at])))
  rownames(out) <- NULL
  out
}
