# What a store must be able to do. A study lies in a ledger (SQLite) or in a plain
# folder of text files; another database would be one more file of methods.

#' Open the store of a study
#'
#' @param path Study folder. @param create Make a ledger where there is none.
#' @param write `FALSE` to read only.
#' @return A store; close it with `close_store()`.
#' @noRd
open_store <- function(path, create = FALSE, write = TRUE) {
  if (has_ledger(path) || create) open_sqlite(path, create, write) else open_folder(path, write)
}

#' @param blind Whether this may be done while the arms of blind pairs are withheld: it shows no arm, or hides it.
#'   What does not say so is refused until they are revealed.
#' @noRd
with_store <- function(path, code, create = FALSE, write = TRUE, blind = FALSE) {
  store <- open_store(path, create, write)
  on.exit(close_store(store))
  if (!blind) assert_revealed(store)
  # damage may show only where a page is read
  withCallingHandlers(code(store), error = function(e) abort_damaged(store, e))
}

assert_revealed <- function(store) {
  if (store_withheld(store)) {
    pairs <- store_pairs(store)
    abort_stuck(
      paste0("its arms are withheld until its pairs are judged (", sum(!is.na(pairs$choice)), " of ", nrow(pairs), ")"),
      store$folder, paste0(
        "go on: honestmargin run ", store$folder, ", or give it up to see them: honestmargin run ", store$folder,
        " --give-up"
      )
    )
  }
}

#' Say what a store's own error means, where it means damage
#' @noRd
abort_damaged <- function(store, e) UseMethod("abort_damaged")
#' @export
abort_damaged.default <- function(store, e) invisible()

close_store <- function(store) UseMethod("close_store")
#' @export
close_store.default <- function(store) invisible()

#' Numbers of the batches that were sealed
#' @noRd
store_batches <- function(store) UseMethod("store_batches")
#' @export
store_batches.default <- function(store) 1L

#' The plan as it was sealed
#' @noRd
store_plan <- function(store, batch = NULL) UseMethod("store_plan")

#' Passes that have ended, in the order in which they ran
#' @return Data frame with `pass_columns`. A row with a `part` says only what was said of that
#'   part of a pass (`role`, `reason`, `outcome`).
#' @noRd
store_passes <- function(store, batch = NULL) UseMethod("store_passes")

#' What the captures of passes gave: the readings that `summarise_capture()` makes
#' @param metrics Metrics of the tester's own.
#' @return A list: `readings`, `piles`, `parts`, `limits`, `pace` (data frames with `pass`), `findings`.
#' @noRd
store_summaries <- function(store, plan, passes, metrics = list()) UseMethod("store_summaries")

#' Readings that were typed or scored, and those that were corrected
#' @return Data frame `pass`, `part`, `segment`, `metric`, `value`, `unit`, `better`, maybe `scale`.
#' @noRd
store_typed <- function(store, plan, passes) UseMethod("store_typed")

#' Which passes have which kinds of trace
#' @return Data frame `pass`, `kind` (`frames`, `sensors`, `marks`).
#' @noRd
store_traces <- function(store) UseMethod("store_traces")

#' What was captured of one pass
#' @param pass One row of passes. @param kinds Which traces of it.
#' @noRd
store_capture <- function(store, pass, kinds = c("frames", "sensors", "marks")) UseMethod("store_capture")

#' What the record says beside the passes
#' @return A list: `sealed` (`NULL`, or a list `at`, `hash`, `batch`, and `changed` and `now`, when and into which plan
#'   it was changed), `findings`,
#'   `snapshots` (data frame), `begun` (data frame).
#' @noRd
store_record <- function(store, batch = NULL) UseMethod("store_record")

# What changes a store. A plain folder has no methods for these.

#' Store the plan as it stands, and seal its first batch where nothing is sealed yet
#' @noRd
store_seal <- function(store, plan, fresh = FALSE) UseMethod("store_seal")
#' Passes that have not begun, in the order in which they will run
#' @noRd
store_open <- function(store, most = -1) UseMethod("store_open")
#' How many passes are planned and done, and how long those took
#' @noRd
store_progress <- function(store) UseMethod("store_progress")
store_begin <- function(store, pass, machine) UseMethod("store_begin")
#' Store a finished pass, all of it or nothing
#' @param record A list: `pass`, `seconds`, `outcome`, `effective`, `note`, `played` (when the workload
#'   began), `readings`, `traces`, `piles`, `parts`, `limits`, `pace`, `findings`, `snapshots`, `taken` (the
#'   file it came in); data frames or `NULL`.
#' @noRd
store_end <- function(store, record) UseMethod("store_end")
#' A pass that takes the place of one that gave nothing, unless there were `most` of them
#' @noRd
store_again <- function(store, pass, reason, most) UseMethod("store_again")
#' Passes that began and did not end
#' @noRd
store_unfinished <- function(store) UseMethod("store_unfinished")
#' The pass that began last, the `boot` it ran in and its `outcome`
#' @noRd
store_last <- function(store) UseMethod("store_last")
#' A pass beyond the plan
#' @noRd
store_extra <- function(store, place) UseMethod("store_extra")
#' Further blocks of a batch, after passes of it were seen
#' @param said `FALSE` where looks after every block foresaw them.
#' @return How many passes were added.
#' @noRd
store_extend <- function(store, blocks, batch, said = TRUE) UseMethod("store_extend")
#' One pass of a search, to be run next
#' @param place A list: `batch`, `arm`, `workload`, `role`. @param asked Whether the tester asked for it.
#' @noRd
store_rung <- function(store, place, asked = FALSE) UseMethod("store_rung")
#' The comparison that a search ends with
#' @param schedule From `compare_schedule()`; ids and positions are given to it.
#' @noRd
store_compare <- function(store, schedule) UseMethod("store_compare")
#' Values that a comparison was planned for
#' @noRd
store_compared <- function(store) UseMethod("store_compared")
#' What was said of a search
#' @return A list: `skip`, `add`, `stop` (a flag).
#' @noRd
store_said <- function(store, batch = NULL) UseMethod("store_said")
#' @export
store_said.default <- function(store, batch = NULL) list(skip = character(), add = character(), stop = FALSE)
#' Take back a pass that came in from elsewhere; its place is open again
#' @noRd
store_undo <- function(store, pass, reason) UseMethod("store_undo")
#' Refuse what this store has no place for
#' @noRd
assert_keeps <- function(store, kind) UseMethod("assert_keeps")
#' @export
assert_keeps.default <- function(store, kind) invisible()
#' Write down what was said or decided
#' @param detail A list that can be written as JSON. @param once What a decision is known by, where it is made but once.
#' @noRd
store_event <- function(store, kind, pass = NA_character_, part = NA_integer_, detail = NULL, reason = NA_character_,
                        once = NULL) {
  UseMethod("store_event")
}
#' Steps by hand between passes: was the last one asked for done, and at which start of the machine?
#' @noRd
store_handover <- function(store, pass) UseMethod("store_handover")
store_hand_over <- function(store, pass, boot, done) UseMethod("store_hand_over")
#' Ask a person, through whatever shows the questions of this study
#' @param facts A list that can be written as JSON.
#' @return The number of the question.
#' @noRd
store_ask <- function(store, kind, pass, facts, machine) UseMethod("store_ask")
#' The first answer to a question stands
#' @param said A list that can be written as JSON. @param via Where it was given.
#' @return `TRUE`, or `FALSE` where it was answered before.
#' @noRd
store_answer <- function(store, question, said, via) UseMethod("store_answer")
#' @return What was said, a list with `via`; `NULL` where nobody has answered yet.
#' @noRd
store_answered <- function(store, question) UseMethod("store_answered")
#' The question that was asked last, and not answered
#' @return `NULL`, or a list `id`, `at`, `pid`, `boot`, `pass`, `kind`, `facts`.
#' @noRd
store_question <- function(store) UseMethod("store_question")
#' @export
store_question.default <- function(store) NULL
#' One planned pass by its id
#' @noRd
store_pass <- function(store, pass) UseMethod("store_pass")
#' The passes that ended last, newest first, with `note`
#' @noRd
store_latest <- function(store, most) UseMethod("store_latest")
#' A number that changes with everything that is written down
#' @noRd
store_stamp <- function(store) UseMethod("store_stamp")
#' Write traces; rows of the table of traces
#' @noRd
store_put_capture <- function(store, capture) UseMethod("store_put_capture")
#' Add what a sensor log gave to passes that have ended
#' @noRd
store_add_sensors <- function(store, kept, taken) UseMethod("store_add_sensors")
#' Files that came in from elsewhere, known by their content
#' @noRd
store_taken <- function(store) UseMethod("store_taken")
#' Note a file that came in from elsewhere
#' @noRd
store_note_taken <- function(store, taken) UseMethod("store_note_taken")
#' Everything that was said or done, in the order of time
#' @noRd
store_history <- function(store) UseMethod("store_history")
#' Passes that have ended, in the order of time, with when they `started`, `played` and `ended`
#' @noRd
store_ended <- function(store) UseMethod("store_ended")
#' All readings of one pass
#' @noRd
store_readings <- function(store, pass) UseMethod("store_readings")
#' What the machine showed for the setting at an earlier pass of the same start, or `NULL`
#' @noRd
store_shown <- function(store, pass) UseMethod("store_shown")
#' Values of a metric that passes of the same arm, workload and context have already, or those of any arm
#' @noRd
store_values <- function(store, pass, segment, metric, any_arm = FALSE) UseMethod("store_values")

#' Passes of the plan that ended without a result, and of which no further try was written down
#' @return Data frame: a row of `pass` each, with `why` (`lost`, `interrupted`, `undone`).
#' @noRd
store_holes <- function(store) UseMethod("store_holes")
#' Blind pairs: are their arms withheld; their order; show the arms; what was said of a pair
#' @return Of `store_pairs()` a data frame, one row per pair: `batch`, `block`, `workload`, `first`, `second` (arms),
#'   `pass` (its last), `whole` (whether both ran to their end), `choice` (`"first"`, `"second"`, `"none"`, `NA`),
#'   `note`.
#' @noRd
store_withheld <- function(store) UseMethod("store_withheld")
#' @export
store_withheld.default <- function(store) FALSE
store_blind <- function(store) UseMethod("store_blind")
store_reveal <- function(store, given_up = FALSE) UseMethod("store_reveal")
store_judge <- function(store, pair, said) UseMethod("store_judge")
store_pairs <- function(store, batch = NULL) UseMethod("store_pairs")
