# The table of verdicts. What was cut out of it still knows its findings, its units
# and its names.

verdict_columns <- c(
  "workload", "segment", "context", "metric", "unit", "better", "arm", "baseline", "n_arm", "n_baseline",
  "baseline_value", "arm_value", "scale", "change", "lower", "upper", "confidence", "differs",
  "verdict", "reason", "worth", "ruled_out", "noise", "detectable", "more_passes", "p_value",
  "p_adjusted", "unit_of_replication", "family_size", "role", "codes"
)

#' @param rows Data frame with `verdict_columns`. @param findings What was found on the way.
#' @param labels From `plan_labels()`. @param looks Whether the intervals allow for looks.
#' @param of The study or the readings that were weighed. @param moderated From `moderated_by()`.
#' @noRd
new_verdicts <- function(rows, findings, labels, of, looks = FALSE, moderated = NULL) {
  stopifnot(all(verdict_columns %in% names(rows)))
  assert_possible(rows)
  # worded here, when all that is to be told is known
  rows$reason <- format(rows$codes)
  structure(rows,
    class = c("honestmargin_verdicts", "honestmargin_answer", "data.frame"), question = "verdicts",
    columns = verdict_columns, findings = findings, labels = labels, weighed = of, looks = looks,
    moderated = moderated
  )
}

#' Refuse verdicts that their own intervals deny, whoever made them
#' @noRd
assert_possible <- function(rows) {
  range <- new_interval(rows$lower, rows$upper)
  falls <- rows$better == "lower"
  worst <- ifelse(falls, -range$upper, range$lower)
  best <- ifelse(falls, -range$lower, range$upper)
  wrong <- which(!rows$verdict %in% verdict_words |
    (rows$verdict %in% c("gain", "clear gain") & !(worst > 0) %in% TRUE) |
    (rows$verdict %in% c("loss", "clear loss") & !(best < 0) %in% TRUE) |
    (rows$verdict == "negligible" & !(worst >= -rows$worth & best <= rows$worth) %in% TRUE))
  if (length(wrong)) {
    one <- rows[wrong[1], ]
    stop("a verdict that cannot be: ", one$verdict, " of ", one$arm, " in ", one$workload, ", ", one$metric, " from ",
      one$lower, " to ", one$upper,
      call. = FALSE
    )
  }
}

#' Comparisons that were judged, as one table
#' @param rows A list of columns, from `judge_contrasts()`.
#' @noRd
verdict_table <- function(rows) {
  rows[c("n_arm", "n_baseline")] <- lapply(rows[c("passes_arm", "passes_baseline")], as.integer)
  rows$codes <- new_codes(lapply(rows$codes, as.list))
  # worded by `new_verdicts()`
  rows$reason <- rep(NA_character_, length(rows$arm))
  list2DF(rows[verdict_columns])
}

#' @export
`[.honestmargin_verdicts` <- function(x, ...) {
  out <- NextMethod()
  if (!is.data.frame(out)) {
    return(out)
  }
  # a choice of columns is no longer a table of verdicts
  if (!all(verdict_columns %in% names(out))) {
    return(plain_table(out))
  }
  kept <- c("question", "columns", "findings", "labels", "weighed", "otherwise", "batches", "looks", "how", "moderated")
  kept <- intersect(kept, names(attributes(x)))
  attributes(out)[kept] <- attributes(x)[kept]
  out
}

#' Is a number judged here, and not only how passes end?
#' @noRd
judges_numbers <- function(verdicts) {
  any(verdicts$role == "primary" & !verdicts$metric %in% names(known_outcome_metrics()))
}

#' Two tables of verdicts, workload by workload
#' @noRd
stack_verdicts <- function(one, other) {
  if (is.null(one) || is.null(other)) {
    return(if (is.null(one)) other else one)
  }
  codes <- c(unclass(one$codes), unclass(other$codes))
  plain <- setdiff(verdict_columns, "codes")
  rows <- rbind(as.data.frame(one)[plain], as.data.frame(other)[plain])
  rows$codes <- new_codes(codes)
  rows <- rows[order(match(rows$workload, unique(rows$workload))), , drop = FALSE]
  rownames(rows) <- NULL
  rows
}

#' The rows of some workloads, metrics and contexts; `NULL` for all
#'
#' The family stays what it was: what is shown less of was not weighed less.
#' @noRd
only_rows <- function(verdicts, workload = NULL, metric = NULL, context = NULL) {
  wanted <- list(workload = workload, metric = metric, context = context)
  keep <- rep(TRUE, nrow(verdicts))
  for (column in names(Filter(length, wanted))) {
    there <- unique(stats::na.omit(verdicts[[column]]))
    unknown <- setdiff(wanted[[column]], there)
    if (length(unknown)) {
      abort_input(
        paste0("no ", column, " '", unknown[1], "'"),
        todo = if (length(there)) did_you_mean(unknown[1], there) else paste("nothing here has a", column)
      )
    }
    keep <- keep & verdicts[[column]] %in% wanted[[column]]
  }
  if (!any(keep)) {
    abort_input(
      "these do not go together: no comparison is of all of them",
      todo = "leave out --workload, --metric or --context to see all there are"
    )
  }
  otherwise <- attr(verdicts, "otherwise")
  if (!is.null(otherwise)) {
    later <- otherwise$verdicts
    otherwise$verdicts <- later[cell_key(later) %in% cell_key(verdicts)[keep], , drop = FALSE]
  }
  structure(verdicts[keep, , drop = FALSE], otherwise = otherwise)
}
