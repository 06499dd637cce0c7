# What the checks saw in single passes, with the trace it was seen in.

check_data <- function(x, workload = NULL, metric = NULL, context = NULL, ..., pass = NULL) {
  checked <- check_passes(x, ...)
  study <- traced_study(x)
  passes <- checked$passes
  if (!is.null(workload)) passes <- passes[passes$workload %in% workload, , drop = FALSE]
  if (!is.null(context)) passes <- passes[passes$context %in% context, , drop = FALSE]
  if (is.null(pass)) pass <- seen_passes(study, passes)
  data <- trace_data(study, pass = pass)
  shown <- data[!duplicated(paste(data$pass, data$part)), , drop = FALSE]
  structure(data,
    said = vapply(shown$pass, said_of_pass, "", found = findings_of(checked)),
    others = stack_rows(lapply(shown$pass, fellows_pace, study = study)),
    held = held_where(study, shown)
  )
}

# gravest first, and no more than fit on one picture
seen_passes <- function(study, passes) {
  passes <- passes[passes$role == "counted" & !is.na(passes$gravest), , drop = FALSE]
  if (is_study(study)) passes <- passes[has_trace(study, passes, "frames"), , drop = FALSE]
  passes <- passes[order(match(passes$gravest, severities)), , drop = FALSE]
  if (!nrow(passes)) {
    abort_input(
      "the checks saw nothing in a pass that has a frame log", todo = "name passes to look at them all the same: --pass"
    )
  }
  utils::head(unique(passes$pass), 3)
}

said_of_pass <- function(pass, found) {
  concerns <- vapply(passes_meant(found), function(p) pass %in% p, NA) &
    !found$code %in% setdiff(told_elsewhere, said_for_all)
  own <- found[concerns, , drop = FALSE]
  own <- own[order(match(own$severity, severities)), , drop = FALSE]
  words <- vapply(seq_len(nrow(own)), function(i) sub("^(pass|passes) [^:]*: ", "", finding_words(own[i, ])[1]), "")
  if (length(words)) paste(unique(words), collapse = "; ") else "nothing seen in it alone"
}

#' The pace of the other passes of its arm, at the level of this one
#' @return Data frame `pass`, `time_s`, `median_ms`; `NULL` where there are too few.
#' @noRd
fellows_pace <- function(pass, study) {
  pace <- study$pace
  own <- match(pass, pace$pass)
  row <- study$passes[match(pass, study$passes$pass), , drop = FALSE]
  alike <- study$passes[ran_well(study$passes) & study$passes$arm == row$arm & study$passes$workload == row$workload &
    study$passes$context %in% row$context & study$passes$pass != pass, , drop = FALSE]
  at <- which(pace$pass %in% alike$pass)
  if (is.na(own) || length(at) < 2) {
    return(NULL)
  }
  levels <- do.call(rbind, pace$levels[at])
  begin <- seq_len(ncol(levels) %/% 3)
  # laid on its own first third, so that what comes after can be compared
  shape <- apply(levels - rowMeans(levels[, begin]), 2, stats::median)
  part <- seq_along(shape) - 0.5
  data.frame(
    pass = pass, time_s = pace$from_s[own] + part * pace$part_s[own],
    median_ms = exp(shape + mean(pace$levels[[own]][begin]))
  )
}

# where a limiter held the frames of these passes
held_where <- function(study, shown) {
  key <- function(t) paste(t$workload, t$context, t$arm, sep = "\r")
  ceilings <- study$ceilings[is.na(study$ceilings$segment), , drop = FALSE]
  at <- match(key(shown), key(ceilings))
  cbind(shown[!is.na(at), c("pass", "arm"), drop = FALSE], limit_ms = ceilings$limit_ms[at[!is.na(at)]])
}

register("figure", "check",
  rank = 3.5, data = check_data, about = "what the checks saw, on the trace it was seen in", of_passes = TRUE
)
