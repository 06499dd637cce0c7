# Passes that the tool did not run: typed numbers and files from elsewhere.

#' Add a pass that was run elsewhere
#'
#' The next scheduled pass of that arm, workload and context is taken; where none
#' is left the pass is an extra one, which the study then says.
#'
#' @param folder Study folder.
#' @param arm,workload,context,block Which pass; workload and context may be left
#'   out where there is only one.
#' @param values Named numeric vector: one value per metric; `segment/metric` names
#'   a value of one segment of the workload.
#' @param frames Frame times in ms, or `NULL`.
#' @param outcome What happened, `"ok"` by default.
#' @param note Text.
#' @param proof Path of a picture that is kept beside the ledger.
#' @return A data frame of one row: `pass`, `arm`, `workload`, `extra`.
#' @section Errors: `honestmargin_error_input` for an arm, workload, context,
#'   metric or outcome that is not known.
#' @export
#' @examples
#' folder <- tempfile("study-")
#' dir.create(folder)
#' writeLines(c(
#'   "setting: {name: lid, baseline: open}", "arms: [{value: open}, {value: shut}]", "blocks: 2",
#'   "workloads: [{id: lap}]", "metrics: [{id: score, worth: 2}]"
#' ), file.path(folder, "study.yml"))
#' add_pass(folder, arm = "open", values = c(score = 812))
add_pass <- function(folder, arm, workload = NULL, context = NULL, block = NULL, values = NULL, frames = NULL,
                     outcome = "ok", note = NULL, proof = NULL) {
  planned <- study_plan(folder)
  plan <- planned$plan
  place <- added_place(plan, arm, workload, context)
  check_word(outcome, outcomes, "outcome", function(i) NULL)
  if (is.null(values) && is.null(frames) && outcome %in% c("ok", "artefact")) {
    abort_needed("no value given", todo = "give METRIC=VALUE, --frames FILE, or the outcome that left none")
  }
  if (!is.null(proof) && !file.exists(proof)) abort_input("no such picture", proof, "check the name")
  if (!is.null(frames)) frames <- assert_frames(frames)
  typed <- added_scores(plan, workload_of(plan, place$workload), names(values))
  with_ledger(folder, create = TRUE, code = function(con) {
    seal_first(con, planned$text, plan)
    pass <- claim_pass(con, place, block)
    record <- list(pass = pass$pass, outcome = outcome, detail = note)
    if (!is.null(values)) {
      record$readings <- data.frame(
        pass = pass$pass, workload = segment_place(pass$workload, typed$segment), metric = typed$metric,
        value = unname(values), unit = typed$unit, better = typed$better
      )
    }
    if (!is.null(frames)) {
      kept <- keep_capture(folder, plan, pass, list(frames = data.frame(frame_time_ms = frames)))
      record$readings <- rbind(record$readings, kept$readings)
      record[c("traces", "pile")] <- kept[c("traces", "pile")]
      notes <- c(note, kept$notes)
      if (length(notes)) record$detail <- paste(notes, collapse = "; ")
      record$seconds <- sum(frames) / 1000
    }
    begin_pass(con, pass$pass, machine_identity())
    end_pass(con, record)
    if (!is.null(proof)) keep_proof(con, folder, pass$pass, proof)
    data.frame(pass = pass$pass, arm = pass$arm, workload = pass$workload, extra = pass$extra)
  })
}

added_place <- function(plan, arm, workload, context) {
  pick <- function(given, known, word) {
    given <- empty_to(given, if (length(known) == 1) known)
    if (is.null(given)) abort_needed(paste0("which ", word, "?"), todo = paste0("one of ", some_of(known, 9)))
    if (!as.character(given) %in% known) {
      abort_input(
        paste0("unknown ", word, " '", given, "'"),
        todo = did_you_mean(given, known)
      )
    }
    as.character(given)
  }
  contexts <- plan_contexts(plan)
  list(
    arm = pick(arm, plan_arms(plan), "arm"), workload = pick(workload, plan_workloads(plan), "workload"),
    context = if (anyNA(contexts)) NA_character_ else pick(context, contexts, "context")
  )
}

# "harbour/time" is the time of the segment harbour
added_scores <- function(plan, workload, names) {
  described <- described_metrics(plan)
  split <- !names %in% names(described) & grepl("/", names, fixed = TRUE)
  segment <- ifelse(split, sub("/[^/]*$", "", names), NA_character_)
  metric <- ifelse(split, sub("^.*/", "", names), names)
  unknown <- setdiff(metric, names(described))
  if (length(unknown)) {
    abort_input(
      paste0("unknown metric '", unknown[1], "'"),
      todo = paste0(did_you_mean(unknown[1], names(described)), " (or add it to the plan's metrics)")
    )
  }
  strange <- setdiff(segment[split], unlist(workload$segments))
  if (length(strange)) {
    abort_input(
      paste0("workload '", workload$id, "' has no segment '", strange[1], "'"),
      todo = if (length(workload$segments)) did_you_mean(strange[1], workload$segments) else "add it to the plan"
    )
  }
  of <- function(part) vapply(metric, function(id) described[[id]][[part]], "", USE.NAMES = FALSE)
  list(metric = metric, segment = segment, unit = of("unit"), better = of("better"))
}

claim_pass <- function(con, place, block = NULL) {
  open <- open_passes(con)
  fits <- open$arm == place$arm & open$workload == place$workload
  if (!is.na(place$context)) fits <- fits & open$context %in% place$context
  if (!is.null(block)) fits <- fits & open$block %in% as.character(block)
  if (any(fits)) {
    return(cbind(open[which(fits)[1], ], extra = FALSE))
  }
  last <- DBI::dbGetQuery(con, "SELECT max(position) AS p, count(*) AS n FROM pass")
  pass <- data.frame(
    pass = sprintf("x%03d", last$n + 1), batch = 1, position = last$p + 1, block = NA_character_, start = NA_integer_,
    context = place$context, arm = place$arm, workload = place$workload, role = "counted", instead_of = NA_character_
  )
  append_rows(con, "pass", pass)
  append_event(con, "extra pass", pass$pass, detail = place, reason = "no scheduled pass of this kind was left")
  cbind(pass, extra = TRUE)
}

keep_proof <- function(con, folder, pass, proof) {
  place <- file.path(folder, "proof")
  dir.create(place, showWarnings = FALSE)
  name <- paste0(pass, "-", basename(proof))
  write_whole(file.path(place, name), function(to) file.copy(proof, to))
  append_event(
    con, "proof", pass,
    detail = list(file = file.path("proof", name), hash = cli::hash_file_sha256(proof))
  )
}
