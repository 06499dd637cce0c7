# Passes that the tool did not run: typed numbers and files from elsewhere.

#' Add a pass that was run elsewhere
#'
#' The next scheduled pass of that arm, workload and context is taken; where none
#' is left the pass is an extra one, which the study then says.
#'
#' @param x Study folder.
#' @param arm,workload,context,block Which pass; workload and context may be left
#'   out where there is only one.
#' @param values Named numeric vector: one value per metric; `segment/metric` names
#'   a value of one segment of the workload; `seconds` how long it ran.
#' @param ... Not used.
#' @param frames Frame times in ms, what [read_frames()] returned, the path of a frame log, or `NULL`.
#' @param layout Of that log, as in [read_frames()]; `NULL`: the plan's, if any.
#' @param outcome What happened, `"ok"` by default.
#' @param role `"counted"`, or `"warm_up"`.
#' @param note Text.
#' @param proof Path of a picture that is kept beside the ledger.
#' @return A data frame of one row: `pass`, `arm`, `workload`, `extra`.
#' @section Errors: `honestmargin_error_input` for an arm, workload, context,
#'   metric or outcome that is not known, and for a log that is stored already.
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: lid, baseline: open}", "arms: [{value: open}, {value: shut}]", "blocks: 2",
#'   "workloads: [{id: lap}]", "metrics: [{id: score, worth: 2}]"
#' ), file.path(folder, "study.yml"))
#' add_pass(folder, arm = "open", values = c(score = 812))
add_pass <- function(x, arm, workload = NULL, context = NULL, block = NULL, values = NULL, ..., frames = NULL,
                     layout = NULL, outcome = "ok", role = "counted", note = NULL, proof = NULL) {
  assert_no_dots(...)
  folder <- folder_of(x)
  plan <- read_plan(folder)
  # values that were put on the ladder since
  if (is_search(plan) && has_ledger(folder)) plan$arms <- with_store(folder, function(s) load_search(s)$plan$arms)
  place <- added_place(plan, arm, workload, context)
  assert_word(outcome, outcomes, "outcome")
  assert_word(role, c("counted", "warm_up"), "role")
  apart <- values_and_seconds(values, plan)
  values <- apart$values
  silent <- is.null(values) && is.null(frames) && outcome == "ok"
  if (silent && !judged_by_outcome(workload_of(plan, place$workload), plan)) {
    abort_needed("no value given", todo = "give METRIC=VALUE, --frames FILE, or the outcome that left none")
  }
  if (!is.null(proof) && !file.exists(proof)) abort_input("no such picture", proof, "check the name")
  log <- if (is.character(frames)) frames
  if (!is.null(log)) frames <- read_frames(log, empty_to(layout, plan$frames_layout))
  captured <- list(found = attr(frames, "findings"))
  if (is.data.frame(frames)) frames <- frames$frame_time_ms
  if (!is.null(frames)) captured$frames <- data.frame(frame_time_ms = assert_frames(frames))
  typed <- if (!is.null(values)) added_scores(plan, workload_of(plan, place$workload), values)
  with_store(folder, create = TRUE, code = function(store) {
    store_seal(store, plan)
    if (!is.null(log)) assert_not_taken(store, log)
    pass <- if (is_search(plan)) claim_rung(store, place) else claim_pass(store, place, block, role)
    kept <- keep_capture(store, plan, pass, captured, typed)
    store_begin(store, pass$pass, machine_identity())
    kept$seconds <- added_seconds(apart$seconds, kept$seconds, plan, place, outcome)
    store_end(store, c(kept, list(
      pass = pass$pass, outcome = outcome, note = note, taken = if (!is.null(log)) taken_row(log, pass$pass)
    )))
    if (!is.null(proof)) keep_proof(store, folder, pass$pass, proof)
    data.frame(pass = pass$pass, arm = pass$arm, workload = pass$workload, extra = pass$extra == 1)
  })
}

# how long it ran is the exposure of a pass, not a number to judge
values_and_seconds <- function(values, plan) {
  seconds <- if (!"seconds" %in% vapply(plan$metrics, `[[`, "", "id")) unname(values["seconds"])
  if (isTRUE(is.finite(seconds))) values <- values[names(values) != "seconds"]
  list(values = if (length(values)) values, seconds = seconds)
}

# as it was typed, else as its log says; a test of a search that ran to its end ran as long as the plan says
added_seconds <- function(typed, captured, plan, place, outcome) {
  if (isTRUE(is.finite(typed))) {
    return(typed)
  }
  empty_to(captured, if (is_search(plan) && outcome == "ok") workload_of(plan, place$workload)$seconds)
}

# one log is one pass, whichever way it comes
assert_not_taken <- function(store, log) {
  pass <- stored_as(store, log)
  if (length(pass)) {
    abort_input(
      paste("is stored already, as pass", pass), log,
      paste0("name the log of this pass; if that one was wrong: honestmargin undo ", store$folder, " ", pass)
    )
  }
}

#' The pass whose log a file was already, known by its content
#' @return Its id, or `NULL`.
#' @noRd
stored_as <- function(store, log) {
  before <- store_taken(store)
  pass <- before$pass[if (file.exists(log)) before$hash == cli::hash_file_sha256(log)]
  if (length(pass)) pass[1]
}

added_place <- function(plan, arm, workload, context) {
  pick <- function(given, known, word) {
    given <- empty_to(given, if (length(known) == 1) known)
    if (is.null(given)) abort_needed(paste0("which ", word, "?"), todo = paste0("one of ", some_of(known, 9)))
    given <- show_exact(given, 15)
    if (!given %in% known) {
      abort_input(paste0("unknown ", word, " '", given, "'"), todo = did_you_mean(given, known))
    }
    given
  }
  contexts <- plan_contexts(plan)
  list(
    arm = pick(arm, plan_arms(plan), "arm"), workload = pick(workload, plan_workloads(plan), "workload"),
    context = if (anyNA(contexts)) NA_character_ else pick(context, contexts, "context")
  )
}

added_scores <- function(plan, workload, values) {
  described <- described_metrics(plan)
  places <- typed_places(names(values), names(described))
  unknown <- setdiff(places$metric, names(described))
  if (length(unknown)) {
    abort_input(
      paste0("unknown metric '", unknown[1], "'"),
      todo = paste0(did_you_mean(unknown[1], names(described)), " (or add it to the plan's metrics)")
    )
  }
  strange <- setdiff(places$segment, c(NA, workload$segments))
  if (length(strange)) {
    abort_input(
      paste0("workload '", workload$id, "' has no segment '", strange[1], "'"),
      todo = if (length(workload$segments)) did_you_mean(strange[1], workload$segments) else "add it to the plan"
    )
  }
  better <- vapply(places$metric, function(id) described[[id]]$better, "", USE.NAMES = FALSE)
  typed_readings(plan, places, unname(values), better)
}

# of a search: a pass of the comparison where one is due, else of the climb
claim_rung <- function(store, place) {
  open <- store_open(store)
  due <- open[open$arm == place$arm & open$workload == place$workload, , drop = FALSE]
  if (nrow(due)) {
    return(due[1, ])
  }
  now <- load_search(store)$now
  soaks <- now$do == "soak" && now$arm == place$arm && now$workload == place$workload
  store_rung(store, list(
    batch = 1L, arm = place$arm, workload = place$workload, role = if (soaks) "soak" else "rung"
  ))
}

claim_pass <- function(store, place, block = NULL, role = "counted") {
  open <- store_open(store)
  fits <- open$arm == place$arm & open$workload == place$workload & open$role == role
  if (!is.na(place$context)) fits <- fits & open$context %in% place$context
  if (!is.null(block)) fits <- fits & open$block %in% show_exact(block, 15)
  if (any(fits)) {
    open[which(fits)[1], ]
  } else {
    store_extra(
      store, c(place, list(block = empty_to(block, NA_character_), role = role))
    )
  }
}

keep_proof <- function(store, folder, pass, proof) {
  place <- file.path(folder, "proof")
  dir.create(place, showWarnings = FALSE)
  name <- paste0(pass, "-", basename(proof))
  write_whole(file.path(place, name), function(to) {
    if (!file.copy(proof, to, overwrite = TRUE)) stop("it cannot be read")
  })
  store_event(store, "proof", pass,
    detail = list(file = file.path("proof", name), hash = cli::hash_file_sha256(proof))
  )
}
