# How firm a verdict is: what it would be under every other reasonable choice.

#' How firm the verdicts are
#'
#' Weighs the primary comparisons again under each choice that a careful tester might have made otherwise: every
#' excluded pass counted, every flagged pass left out, what looks like loading trimmed off every pass of its workload,
#' the first block left out, the blocks not used, another definition of the same low or average. Nothing of this changes
#' a verdict; it shows which of them hang on a choice.
#' @param x A study, readings, or what [weigh()] returned.
#' @param ... Passed to [weigh()] where `x` is not weighed yet.
#' @return An object of class `honestmargin_firmness`, a data frame, one row per primary comparison and choice:
#'   `workload`, `segment`, `context`, `metric`, `arm`, `baseline`, `verdict` (as weighed), `choice` (in words), `then`
#'   (verdict under it), `agrees` (the same, whether or not it is clear).
#' @section Errors: As [weigh()].
#' @export
#' @examples
#' how_firm(read_study(demo_study()))
how_firm <- function(x, ...) {
  verdicts <- weighed(x, ...)
  x <- what_was_weighed(verdicts)
  plan <- if (is_study(x)) x$plan
  asked <- asked_of_verdicts(verdicts)
  how <- how_to_weigh(x, plan, readings_of(x), asked, declared_of_verdicts(verdicts))
  how$words_only <- TRUE
  base <- plain_table(verdicts)
  base <- base[base$role == "primary" & base$metric %in% asked$primary, , drop = FALSE]
  readings <- rescale_nonpositive(readings_of(x))
  others <- unlist(lapply(asked$primary, other_definitions))
  readings <- readings[readings$metric %in% c(asked$primary, others), , drop = FALSE]
  choices <- c(
    pass_choices(x, readings), trim_choices(x, readings), block_choices(readings),
    definition_choices(readings, asked$primary)
  )
  rows <- lapply(choices, function(choice) firm_rows(base, choice, how))
  out <- stack_rows(rows)
  if (is.null(out)) out <- cbind(base[0, firm_columns], choice = character(), then = character(), agrees = logical())
  structure(out, class = c("honestmargin_firmness", "data.frame"), labels = plan_labels(plan))
}

firm_columns <- c("workload", "segment", "context", "metric", "unit", "arm", "baseline", "verdict")

# a choice: what it is called, the readings under it, which metric stands for which, and of which workload alone it is
new_choice <- function(code, readings, metric = NULL, workload = NULL) {
  list(code = code, readings = readings, metric = metric, workload = workload)
}

pass_choices <- function(x, readings) {
  excluded <- unique(readings$pass[readings$role == "excluded"])
  flagged <- if (is_study(x)) {
    found <- x$findings
    unique(c(
      x$passes$pass[x$passes$outcome == "artefact" & x$passes$role == "counted"],
      found$pass[!is.na(found$pass) & found$severity != "note"]
    ))
  }
  flagged <- intersect(flagged, readings$pass[readings$role == "counted"])
  c(
    lapply(excluded, function(pass) {
      with <- readings
      with$role[with$pass %in% pass & with$role == "excluded"] <- "counted"
      new_choice(new_code("firm_counted", pass = pass), with)
    }),
    lapply(flagged, function(pass) {
      new_choice(new_code("firm_left_out", pass = pass), readings[!readings$pass %in% pass, , drop = FALSE])
    })
  )
}

# passes whose start is unlike the rest, summarised again from their traces without it: all of a workload by one rule
trim_choices <- function(x, readings) {
  found <- if (is_study(x)) x$findings[x$findings$code == "loading", , drop = FALSE]
  # a report that was read back has no traces
  traced <- if (NROW(found)) unique(x$passes$workload[has_trace(x, x$passes, "frames")])
  lapply(which(found$workload %in% traced), function(i) {
    workload <- found$workload[i]
    trim <- found$values[[i]]$trim
    trimmed <- trimmed_readings(x, workload, trim)
    with <- readings
    key <- function(rows) paste(rows$pass, rows$part, rows$segment, rows$metric, sep = "\r")
    at <- match(key(with), key(trimmed))
    at[with$workload != workload] <- NA
    with$value[!is.na(at)] <- trimmed$value[at[!is.na(at)]]
    new_choice(new_code("firm_trimmed", seconds = trim, workload = workload), with, workload = workload)
  })
}

trimmed_readings <- function(x, workload, trim) {
  plan <- x$plan
  at <- which(plan_workloads(plan) == workload)
  plan$workloads[[at]]$trim <- trim
  passes <- x$passes[x$passes$workload == workload & x$passes$role != "warm_up", , drop = FALSE]
  passes <- passes[has_trace(x, passes, "frames"), , drop = FALSE]
  passes <- passes[!duplicated(passes$pass), , drop = FALSE]
  passes$part <- NA_integer_
  stack_rows(on_all_cores(seq_len(nrow(passes)), function(i) {
    readings <- readings_of_capture(study_capture(x, passes[i, ], c("frames", "marks")), plan)
    if (NROW(readings)) cbind(pass = passes$pass[i], readings)
  }))
}

block_choices <- function(readings) {
  counted <- readings[readings$role == "counted", , drop = FALSE]
  blocked <- !all(is.na(counted$block))
  list_of <- function(use, choice) if (use) list(choice)
  first <- if (blocked) counted$block[which.min(order_or_row(counted))]
  without <- readings
  without$block <- rep(NA_character_, nrow(without))
  c(
    list_of(blocked && length(unique(counted$block)) > 3, new_choice(
      new_code("firm_first_block"), readings[!readings$block %in% first, , drop = FALSE]
    )),
    list_of(blocked, new_choice(new_code("firm_no_blocks"), without))
  )
}

order_or_row <- function(rows) if (anyNA(rows$order)) seq_len(nrow(rows)) else rows$order

definition_choices <- function(readings, primary) {
  there <- unique(readings$metric[!is.na(readings$value)])
  unlist(lapply(primary, function(id) {
    lapply(setdiff(intersect(other_definitions(id), there), primary), function(other) {
      new_choice(new_code("firm_definition", metric = id, other = other), readings, stats::setNames(other, id))
    })
  }), recursive = FALSE)
}

firm_rows <- function(base, choice, how) {
  if (!is.null(choice$workload)) base <- base[base$workload == choice$workload, , drop = FALSE]
  base <- if (is.null(choice$metric)) base else base[base$metric == names(choice$metric), , drop = FALSE]
  # the metric that stands in takes the place of the other in its family, and its worth
  if (!is.null(choice$metric)) {
    how$primary[how$primary == names(choice$metric)] <- choice$metric
    how$worth[[choice$metric]] <- how$worth[names(choice$metric)][[1]]
  }
  if (!nrow(base)) {
    return(NULL)
  }
  readings <- choice$readings[choice$readings$metric %in% how$primary, , drop = FALSE]
  found <- tryCatch(weigh_cells(readings, how)$verdicts, honestmargin_error = function(e) NULL)
  key <- function(v, metric) paste(v$workload, v$segment, v$context, metric, v$arm, v$baseline, sep = "\r")
  metric <- if (is.null(choice$metric)) base$metric else rep(choice$metric, nrow(base))
  then <- found$verdict[match(key(base, metric), key(found, found$metric))]
  plain <- function(word) sub("^clear ", "", word)
  data.frame(
    base[firm_columns],
    choice = code_text(choice$code), then = empty_to(then, NA_character_),
    agrees = plain(then) == plain(base$verdict), row.names = NULL
  )[!is.na(then), , drop = FALSE]
}
