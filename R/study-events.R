# What a tester says afterwards about a pass: beside the record, never over it.

#' Exclude a pass, take it back in, correct it, or note something
#'
#' Nothing captured is changed; each is an event with its time and reason, and
#' [study_history()] shows it.
#'
#' @param folder Study folder with a ledger.
#' @param pass Pass id.
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
exclude_pass <- function(folder, pass, reason) record_event(folder, "exclude", pass, reason, needs_reason = TRUE)

#' @rdname pass_events
#' @export
include_pass <- function(folder, pass, reason) record_event(folder, "include", pass, reason, needs_reason = TRUE)

#' @rdname pass_events
#' @export
note_pass <- function(folder, text, pass = NULL) record_event(folder, "note", pass, text, needs_reason = TRUE)

#' @rdname pass_events
#' @export
correct_reading <- function(folder, pass, metric, value, reason) {
  checkmate::assert_number(value, finite = TRUE)
  record_event(folder, "correct", pass, reason, detail = list(metric = metric, value = value), needs_reason = TRUE)
}

#' @rdname pass_events
#' @export
correct_outcome <- function(folder, pass, outcome, reason) {
  check_word(outcome, outcomes, "outcome", function(i) NULL)
  record_event(folder, "outcome", pass, reason, detail = list(outcome = outcome), needs_reason = TRUE)
}

record_event <- function(folder, kind, pass, reason, detail = NULL, needs_reason = FALSE) {
  if (needs_reason && !nzchar(trimws(empty_to(reason, "")))) {
    abort_needed("no reason given", todo = "say why, with --reason: nothing is dropped silently")
  }
  with_ledger(folder, function(con) {
    known <- ledger_table(con, "ended")$pass
    if (!is.null(pass) && !pass %in% known) {
      abort_input(paste0("no pass '", pass, "' has been run"), folder, did_you_mean(pass, known))
    }
    if (kind == "correct") detail <- placed_correction(con, folder, pass, detail)
    append_event(con, kind, empty_to(pass, NA_character_), detail, reason)
  })
  invisible(study_history(folder))
}

# which of the pass's readings is meant; its own may have a "/" in the name of its metric
placed_correction <- function(con, folder, pass, detail) {
  has <- DBI::dbGetQuery(
    con, "SELECT r.metric, r.workload, p.workload AS whole FROM reading r JOIN pass p USING (pass) WHERE pass = ?",
    list(pass)
  )
  names <- reading_name(has$workload, has$whole, has$metric)
  at <- match(detail$metric, names)
  if (is.na(at)) {
    abort_input(paste0("pass ", pass, " has no '", detail$metric, "'"), folder, did_you_mean(detail$metric, names))
  }
  list(workload = has$workload[at], metric = has$metric[at], value = detail$value)
}

#' Everything that was ever said or changed in a study
#'
#' @param folder Study folder with a ledger.
#' @return A data frame in the order of time: `at`, `kind`, `pass`, `detail`,
#'   `reason`; with the seals and every pass that began or ended among them.
#' @export
#' @examples
#' # see exclude_pass()
study_history <- function(folder) {
  with_ledger(folder, function(con) {
    seal <- ledger_table(con, "seal")
    ended <- ledger_table(con, "ended")
    event <- ledger_table(con, "event")
    rows <- rbind(
      data.frame(
        at = seal$sealed, kind = rep("sealed", nrow(seal)), pass = rep(NA_character_, nrow(seal)),
        detail = paste0("batch ", seal$batch, ", plan ", substr(seal$hash, 1, 12)),
        reason = rep(NA_character_, nrow(seal))
      ),
      if (nrow(ended)) {
        data.frame(
          at = ended$ended, kind = "pass", pass = ended$pass, detail = ended$outcome, reason = ended$detail
        )
      },
      event[c("at", "kind", "pass", "detail", "reason")]
    )
    rows <- rows[order(rows$at), , drop = FALSE]
    rownames(rows) <- NULL
    rows
  })
}

#' What differed between the arms, or drifted, beside the setting
#'
#' @param folder Study folder with a ledger.
#' @param all `TRUE` for the steady ones
#'   too.
#' @return A data frame: `condition`, `seen`, `values`.
#' @export
#' @examples
#' # honestmargin conditions STUDY prints it
study_conditions <- function(folder, all = FALSE) {
  with_ledger(folder, function(con) {
    begun <- ledger_table(con, "begun")
    passes <- merge(ledger_table(con, "pass"), begun, by = "pass")
    passes$order <- match(passes$pass, begun$pass)
    find_differences(ledger_table(con, "snapshot"), passes, all)
  })
}

#' Add a fresh batch, sealed and weighed alone
#'
#' For a result that surprises: the same plan once more with a new order. Run it
#' with [run_study()], read it with `read_study(folder, batch = 2)`.
#' @param folder Study folder with a ledger.
#' @return The number of the new batch.
#' @export
#' @examples
#' # honestmargin repeat STUDY, then honestmargin run STUDY
repeat_study <- function(folder) {
  planned <- study_plan(folder)
  plan <- planned$plan
  with_ledger(folder, function(con) {
    left <- next_pass(con)
    if (!is.null(left)) {
      abort_needed(
        paste0("pass ", left$pass, " is still to be run"),
        todo = paste0("finish first: honestmargin run ", folder)
      )
    }
    batch <- max(ledger_table(con, "seal")$batch) + 1L
    seal_batch(con, store_plan(con, planned$text), plan_schedule(plan, batch))
    batch
  })
}
