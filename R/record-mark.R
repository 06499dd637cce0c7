# Marks that the tester sets while a pass runs.

#' Mark the pass that is running now
#'
#' For the tester beside a running game: which segment begins, when it is paused, that
#' the setting was flipped. The pass's workload needs `beacon: true`.
#' @param x Study folder.
#' @param word `"segment"`, `"pause"`, `"resume"`, `"arm"`, `"loop"` or `"note"`.
#' @param value What goes with it: the segment's name, the arm, the note.
#' @param ... Not used.
#' @param at_s When, on the machine's monotonic clock, in seconds; `NULL` for now.
#' @return The line that was sent (see docs/beacon.md), invisibly.
#' @section Errors: `honestmargin_error_input` for an unknown word or arm,
#'   `honestmargin_error_stuck` where no pass listens.
#' @export
#' @examples
#' # while a pass of my-study runs: honestmargin mark my-study segment harbour
mark_pass <- function(x, word, value = "", ..., at_s = NULL) {
  assert_no_dots(...)
  folder <- folder_of(x)
  plan <- read_plan(folder)
  assert_word(word, mark_words, "mark")
  value <- trimws(value)
  if (word %in% c("arm", "note") && !nzchar(value)) {
    abort_needed(paste0("which ", word, "?"), todo = paste("honestmargin mark", folder, word, "..."))
  }
  if (word == "arm" && is.na(flipped_arms(plan, value))) {
    abort_input(paste0("unknown arm '", plain_text(value), "'"), folder, did_you_mean(value, plan_arms(plan)))
  }
  line <- sprintf("@%.6f %s", empty_to(at_s, monotonic_s()), trimws(paste(word, value)))
  if (nchar(line, "bytes") > 256 || grepl("[[:cntrl:]]", line)) {
    abort_input("the mark is too long or has more than one line", folder, "a line holds 256 bytes of text")
  }
  # the run that is going on says in its lock where it listens
  socket <- read_lock(lock_file(folder))$beacon
  if (is.null(socket) || !tell_beacon(socket, c("beacon 1", line))) {
    abort_stuck(
      "no pass that takes marks is running", folder, "set beacon: true on its workload, and mark while it runs"
    )
  }
  invisible(line)
}
