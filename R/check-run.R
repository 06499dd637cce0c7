# A check is a value: its name, its scope, and a function that gives findings. Each
# stands in a file of its own and registers itself: `scope` is `study` (the function takes a
# list `plan`, `passes`, `readings`, `ceilings`, `limits`, `conditions`, `pace`, `sensors`, `captured`: what those of
# scope `capture` found), `capture` (takes a pass and the frame times of it that count, in ms), `plan` (takes a plan)
# or `verdicts` (takes verdicts and a plan); `words` are those for its codes, where they do not stand in
# `tell-codes-checks.R`.

#' A check of your own
#'
#' Made known for this session; `weigh()`, `read_study()` and `check_passes()` then run it as they run those that are
#' built in.
#' @param name Its name.
#' @param scope What it looks at. `"capture"`: each pass as it is read, `run(pass, frames)` with a list that has `pass`,
#'   `workload` and `arm`, and the frame times that count, in ms. `"study"`: `run(study)` with a list `plan`, `passes`,
#'   `readings`, `ceilings`, `limits`, `conditions`, `pace`, `sensors` and `captured` (what those of scope `capture`
#'   found).
#' @param run A function that returns `NULL`, or what [new_note()] makes.
#' @param words Named list: for each code that it gives, one or two texts: what was seen, and what to do. `{x}` in a
#'   text stands for the value `x` of the finding.
#' @return The name, invisibly. A check of that name that was there is replaced.
#' @export
#' @examples
#' new_check("first_frame", "capture", function(pass, frames) {
#'   if (frames[1] > 50) new_note("warning", "first_frame", ms = frames[1], pass = pass$pass)
#' }, words = list(first_frame = c("its first frame took {ms} ms", "start the capture later")))
new_check <- function(name, scope, run, words = list()) {
  checkmate::assert_string(name, pattern = "^[a-z][a-z0-9_]*$")
  checkmate::assert_choice(scope, c("capture", "study"))
  checkmate::assert_function(run)
  checkmate::assert_list(words, "character", names = if (length(words)) "named")
  register("check", name, scope = scope, run = run, words = words)
  invisible(name)
}

#' A finding of a check of your own
#'
#' @param severity `"note"` is shown, `"warning"` stands beside the verdict and enters how firm it is, `"blocking"` says
#'   that the passes cannot answer. It never changes a number.
#' @param code A word for what was seen; its texts stand in the `words` of [new_check()].
#' @param ... Values, named, for those texts.
#' @param workload,arm,pass,metric Where it was seen; `NA` where it concerns all.
#' @return A finding, to be returned by a check.
#' @export
#' @examples
#' new_note("note", "first_frame", ms = 61, pass = "p007")
new_note <- function(severity, code, ..., workload = NA, arm = NA, pass = NA, metric = NA) {
  checkmate::assert_choice(severity, severities)
  checkmate::assert_string(code)
  new_finding(severity, code, ..., workload = workload, arm = arm, pass = pass, metric = metric)
}
