# What a tester says afterwards about a pass: beside the record, never over it.

#' Exclude a pass, take it back in, correct or undo it, or note something
#'
#' Nothing captured is changed; each is an event with its time and reason, and
#' [study_history()] shows it. Undone is a pass that came in from elsewhere, with [add_pass()] or
#' [take_logs()]: its place in the plan and its file are open again. What ran here is not undone.
#'
#' @param x Study folder with a ledger.
#' @param pass Pass id.
#' @param ... Not used.
#' @param part Which flip of a toggled pass, `NULL` for all of it.
#' @param reason Why; needed to exclude or take back in.
#' @param text What to note.
#' @param metric,value A reading that was typed wrong (`segment/metric` for one of a segment),
#'   and the right value.
#' @param outcome What happened, where that was recorded wrong.
#' @return The history, invisibly.
#' @section Errors: `honestmargin_error_input` for an unknown pass,
#'   `honestmargin_error_needed` without a reason.
#' @name pass_events
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: lid, baseline: open}", "arms: [{value: open}, {value: shut}]", "blocks: 2",
#'   "workloads: [{id: lap}]", "metrics: [{id: score, worth: 2}]"
#' ), file.path(folder, "study.yml"))
#' one <- add_pass(folder, arm = "open", values = c(score = 812))
#' exclude_pass(folder, one$pass, reason = "an update ran")
#' study_history(folder)[, c("kind", "pass", "reason")]
NULL

#' @rdname pass_events
#' @export
exclude_pass <- function(x, pass, reason, ..., part = NULL) {
  assert_no_dots(...)
  record_event(x, "exclude", pass, part, reason)
}

#' @rdname pass_events
#' @export
include_pass <- function(x, pass, reason, ..., part = NULL) {
  assert_no_dots(...)
  record_event(x, "include", pass, part, reason)
}

#' @rdname pass_events
#' @export
note_pass <- function(x, text, pass = NULL) record_event(x, "note", pass, NULL, text)

#' @rdname pass_events
#' @export
correct_reading <- function(x, pass, metric, value, reason, ..., part = NULL) {
  assert_no_dots(...)
  checkmate::assert_number(value, finite = TRUE)
  record_event(x, "correct", pass, part, reason, detail = list(metric = metric, value = value))
}

#' @rdname pass_events
#' @export
correct_outcome <- function(x, pass, outcome, reason, ..., part = NULL) {
  assert_no_dots(...)
  assert_word(outcome, outcomes, "outcome")
  record_event(x, "outcome", pass, part, reason, detail = list(outcome = outcome))
}

#' @rdname pass_events
#' @param arm,workload,block Where the pass belongs, where that was recorded wrong.
#' @export
correct_place <- function(x, pass, reason, ..., arm = NULL, workload = NULL, block = NULL) {
  assert_no_dots(...)
  plan <- read_plan(folder_of(x))
  known <- list(arm = plan_arms(plan), workload = plan_workloads(plan))
  said <- Filter(length, list(arm = arm, workload = workload, block = block))
  if (!length(said)) abort_needed("nothing to correct", todo = "give an arm, a workload or a block")
  said <- lapply(said, as.character)
  for (column in intersect(names(said), names(known))) {
    if (!said[[column]] %in% known[[column]]) {
      abort_input(
        paste0("unknown ", column, " '", said[[column]], "'"),
        todo = did_you_mean(said[[column]], known[[column]])
      )
    }
  }
  record_event(x, "place", pass, NULL, reason, detail = said)
}

#' @rdname pass_events
#' @export
undo_pass <- function(x, pass, reason) record_event(x, "undo", pass, NULL, reason)

record_event <- function(x, kind, pass, part, reason, detail = NULL) {
  folder <- folder_of(x)
  if (!nzchar(trimws(empty_to(reason, "")))) {
    abort_needed("no reason given", todo = "say why, with --reason: nothing is dropped silently")
  }
  with_store(folder, blind = kind == "note", code = function(store) {
    assert_keeps(store, kind)
    known <- store_history(store)$ended$pass
    if (!is.null(pass) && !pass %in% known) {
      abort_input(paste0("no pass '", pass, "' has been run"), folder, did_you_mean(pass, known))
    }
    if (!is.null(pass) && kind != "note" && pass %in% undone_passes(store_history(store)$events)) {
      abort_input(paste0("pass ", pass, " was taken back"), folder, "see: honestmargin history")
    }
    if (kind == "undo") {
      return(store_undo(store, pass, reason))
    }
    if (kind == "place") {
      before <- store_history(store)$ended
      detail$was <- as.list(before[match(pass, known), names(detail), drop = FALSE])
    }
    if (kind == "outcome") detail$was <- store_history(store)$ended$outcome[match(pass, known)]
    if (kind == "correct") detail <- placed_correction(store, folder, pass, part, detail)
    store_event(store, kind, empty_to(pass, NA_character_), empty_to(part, NA_integer_), detail, reason)
  })
  # a note may be made while arms are withheld, which the history would tell
  if (kind == "note" && with_store(folder, store_withheld, write = FALSE, blind = TRUE)) {
    return(invisible())
  }
  invisible(study_history(folder))
}

# which of the pass's readings is meant
placed_correction <- function(store, folder, pass, part, detail) {
  has <- store_readings(store, pass)
  has <- has[has$part %in% empty_to(part, NA_integer_), , drop = FALSE]
  names <- typed_name(has$segment, has$metric)
  at <- match(detail$metric, names)
  if (is.na(at)) {
    abort_input(paste0("pass ", pass, " has no '", detail$metric, "'"), folder, did_you_mean(detail$metric, names))
  }
  list(segment = has$segment[at], metric = has$metric[at], was = has$value[at], value = detail$value)
}

#' Add further blocks to a batch after passes of it were seen
#'
#' An open extension: it is told as such wherever the study is told. Since looking and going on until something
#' differs finds differences by chance more often than the confidence says, the study is from then on judged by
#' intervals that hold however often one looks (see [weigh()]). A fresh batch, [repeat_study()], has narrower ones.
#' @param x Study folder with a ledger.
#' @param blocks How many blocks to add.
#' @param ... Not used.
#' @param batch Which batch; `NULL` for the first.
#' @return The number of passes that were added, for [run_study()].
#' @export
#' @examples
#' # honestmargin extend STUDY --blocks 3, then honestmargin run STUDY
extend_study <- function(x, blocks, ..., batch = NULL) {
  assert_no_dots(...)
  checkmate::assert_count(blocks, positive = TRUE)
  with_store(folder_of(x), function(store) {
    assert_keeps(store, "extension")
    store_extend(store, as.integer(blocks), as.integer(empty_to(batch, 1L)))
  })
}

#' Add a fresh batch, sealed and weighed alone
#'
#' For a result that surprises: the same plan once more with a new order. Run it
#' with [run_study()], read it with `read_study(folder, batch = 2)`.
#' @param x Study folder with a ledger.
#' @param ... Not used.
#' @param blocks How many blocks the batch has; `NULL`: as many as the plan says.
#' @return The number of the new batch.
#' @export
#' @examples
#' # honestmargin repeat STUDY --blocks 9, then honestmargin run STUDY
repeat_study <- function(x, ..., blocks = NULL) {
  assert_no_dots(...)
  checkmate::assert_count(blocks, positive = TRUE, null.ok = TRUE)
  folder <- folder_of(x)
  plan <- read_plan(folder)
  if (!is.null(blocks)) plan$blocks <- as.integer(blocks)
  if (is_search(plan)) {
    abort_input(
      "a search is not repeated in the same study", folder,
      "add blocks to its comparison: honestmargin extend; or search anew in another folder"
    )
  }
  with_store(folder, function(store) {
    assert_keeps(store, "repeat")
    left <- store_open(store, 1)
    if (nrow(left)) {
      abort_needed(
        paste0("pass ", left$pass, " is still to be run"),
        todo = paste0("finish first: honestmargin run ", folder)
      )
    }
    store_seal(store, plan, fresh = TRUE)
  })
}
