# The noise memory of a machine: finished studies leave it, later ones use it.

#' What is remembered of the noise of machines
#'
#' Finished studies that ran here leave how noisy they were, per workload and metric, in a file of the user's; the path
#' is that of the variable `HONESTMARGIN_NOISE` (`off`: nothing is remembered or used). There are no names of people,
#' hosts or files in it.
#'
#' @param machine,workload Only these; `NULL` for all.
#' @param ... Not used.
#' @return A data frame, one row per machine, study, workload, context and metric: `machine` (a hash), `label`
#'   (its processor), `study` (a hash of its plan and seal), `workload`, `context`, `metric`, `unit`, `scale`,
#'   `within` (standard deviation of one pass after what its block was like, in percent or the metric's unit),
#'   `df_within`, `total` (with it), `df_total`, `passes`, `boots` (what starts
#'   of the machine add), `df_boots`, `day`, `setting` and `arm` (the baseline), `work` (a hash of what the
#'   workload runs), `level` (its mean there, in the metric's unit) and `level_passes`. Without rows where nothing is
#'   remembered.
#' @section Errors: `honestmargin_error_stuck` for a damaged, locked or protected file, `honestmargin_error_input` for
#'   one of another version.
#' @export
#' @examples
#' nrow(noise_memory())
noise_memory <- function(machine = NULL, workload = NULL, ...) {
  assert_no_dots(...)
  empty_to(read_memory(machine, workload), no_memory())
}

no_memory <- function() {
  text <- character()
  data.frame(
    machine = text, label = text, study = text, workload = text, context = text, metric = text, unit = text,
    scale = text, within = numeric(), df_within = numeric(), total = numeric(), df_total = numeric(),
    passes = integer(), boots = numeric(), df_boots = numeric(), day = text, setting = text, arm = text, work = text,
    level = numeric(), level_passes = integer()
  )
}

#' Forget noise
#'
#' @param machine,workload,study What to forget, as [noise_memory()] tells it; all `NULL`: everything.
#' @param ... Not used.
#' @return How many rows were forgotten, invisibly.
#' @export
#' @examples
#' if (FALSE) forget_noise(workload = "harbour")
forget_noise <- function(machine = NULL, workload = NULL, study = NULL, ...) {
  assert_no_dots(...)
  invisible(empty_to(forget_memory(machine, workload, study), 0L))
}

#' Which machine a study ran on; `NULL` where its record does not say
#' @noRd
study_machine <- function(study) machine_known_by(study$machine)

machine_known_by <- function(facts) {
  if (all(c("host", "processor", "memory MB") %in% names(facts))) {
    list(key = machine_key(facts), label = facts[["processor"]])
  }
}

# one batch of one study, whatever it is called and wherever it lies
study_mark <- function(study) {
  sealed <- study$sealed
  if (!is.null(sealed)) substr(cli::hash_sha256(paste(sealed$hash, sealed$at, sealed$batch)), 1, 12)
}

#' Leave the noise of a study that ran to its end; a memory that cannot be written is no reason to stop
#' @return A text to tell, or `NULL`.
#' @noRd
remember_noise <- function(study) {
  machine <- study_machine(study)
  if (is.null(machine) || is.null(noise_path()) || is.null(study$sealed) || "unfinished" %in% study$findings$code) {
    return(NULL)
  }
  rows <- noise_of_study(study$readings)
  if (is.null(rows)) {
    return(NULL)
  }
  rows <- cbind(
    machine = machine$key, label = machine$label, study = study_mark(study),
    with_levels(rows, study), day = substr(study$sealed$at, 1, 10)
  )
  try_memory(write_memory(rows))$trouble
}

#' A memory that cannot be used is no reason to stop
#' @return A list: `got`, or `trouble` (a text to tell).
#' @noRd
try_memory <- function(code) {
  tryCatch(list(got = code), honestmargin_error = function(e) list(trouble = sub("\n.*", "", conditionMessage(e))))
}

# to stand beside the findings
trouble_note <- function(trouble) if (!is.null(trouble)) new_finding("note", "memory_unused", what = trouble)

# beside each row of noise the level of the baseline
with_levels <- function(rows, study) {
  setting <- study$plan$setting
  work <- vapply(study$plan$workloads, work_mark, "")
  names(work) <- plan_workloads(study$plan)
  levels <- levels_of_study(study$readings, empty_to(setting$name, ""), empty_to(setting$baseline, ""), work)
  levels <- empty_to(levels, no_memory())
  key <- function(r) paste(r$workload, r$context, r$metric, sep = "\r")
  cbind(rows, levels[match(key(rows), key(levels)), names(level_columns), drop = FALSE], row.names = NULL)
}

# a workload that runs something else under the same name has another level
work_mark <- function(workload) {
  runs <- workload[intersect(c("command", "by_hand", "seconds", "frames", "scores", "trim"), names(workload))]
  substr(cli::hash_sha256(detail_json(runs)), 1, 8)
}

#' What is remembered of this study's machine, of other studies
#' @noRd
remembered_rows <- function(study) {
  machine <- study_machine(study)
  if (!is.null(machine)) rows_of_others(read_memory(machine$key, plan_workloads(study$plan)), list(study))
}

#' Rows of the machine of the last study, without those of the studies themselves
#' @noRd
rows_of_others <- function(memory, studies) {
  machine <- study_machine(studies[[length(studies)]])$key
  memory[memory$machine %in% machine & !memory$study %in% unlist(lapply(studies, study_mark)), , drop = FALSE]
}

#' Pooled noise of this study's machine, of other studies
#' @noRd
remembered_noise <- function(study, which = "total") pool_noise(remembered_rows(study), which)

#' The same for the machine that this runs on
#' @noRd
noise_here <- function(which = "total", workload = NULL) {
  machine <- machine_known_by(machine_snapshot())
  if (!is.null(machine)) pool_noise(read_memory(machine$key, workload), which)
}

#' Weigh with what this machine's noise was before
#'
#' Where an arm has one pass, its noise comes from there; a study much noisier than usual is told so; a finished one
#' leaves its own.
#' @param how Arguments of [weigh()]. @param memory `FALSE`: neither read nor written.
#' @return Verdicts.
#' @noRd
weigh_remembering <- function(x, how, memory = TRUE) {
  # what a report carries ran on a machine that is not known here
  if (!memory || !is_study(x) || is.null(x$sealed) || is.null(noise_path()) || !is.null(attr(x, "carried"))) {
    return(do.call(weigh, c(list(x), how)))
  }
  known <- try_memory(remembered_rows(x))
  if (is.null(how$noise)) how$noise <- pool_noise(known$got)
  verdicts <- do.call(weigh, c(list(x), how))
  attr(verdicts, "findings") <- bind_findings(
    attr(verdicts, "findings"),
    unlike_before(x, verdicts$metric[verdicts$role == "primary"], known$got),
    trouble_note(empty_to(known$trouble, remember_noise(x)))
  )
  verdicts
}

#' The same for a study against earlier ones
#' @noRd
against_remembering <- function(x, earlier, how) {
  studies <- lapply(c(list(x), as.list(earlier)), read_for_against)
  kept <- Filter(is_study, studies)
  known <- if (is_study(studies[[1]])) try_memory(remembered_rows(studies[[1]]))
  verdicts <- do.call(weigh_against, c(list(studies[[1]], studies[-1], memory = known$got), how))
  trouble <- empty_to(known$trouble, unlist(lapply(kept, remember_noise))[1])
  attr(verdicts, "findings") <- bind_findings(attr(verdicts, "findings"), trouble_note(trouble))
  verdicts
}

#' Between what bounds the noise of a metric lay in all that is remembered
#'
#' @param metric Ids; `NULL` for every metric told in percent.
#' @return `NULL`, or a list `low`, `high` (percent), `studies`.
#' @noRd
usual_noise <- function(metric = NULL) {
  rows <- tryCatch(noise_memory(), honestmargin_error = function(e) no_memory())
  rows <- rows[rows$scale == "percent" & (is.null(metric) | rows$metric %in% metric), , drop = FALSE]
  if (nrow(rows)) list(low = min(rows$total), high = max(rows$total), studies = length(unique(rows$study)))
}

#' Noise and levels of these metrics, held against what is remembered
#' @noRd
unlike_before <- function(study, metrics, memory) {
  if (!NROW(memory)) {
    return(NULL)
  }
  own <- noise_of_study(study$readings)
  own <- own[own$metric %in% metrics, , drop = FALSE]
  bind_findings(unusual_noise(own, pool_noise(memory)), if (NROW(own)) unusual_level(with_levels(own, study), memory))
}
