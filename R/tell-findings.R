# Findings in words.

#' Findings of a weighing or a study
#'
#' @param x What [weigh()], [read_study()], [read_readings()], [read_frames()] or [plan_study()]
#'   returned.
#' @param ... Not used.
#' @param exploratory For verdicts: `TRUE` to be told of metrics outside the family too.
#' @return A data frame, gravest first: `severity` (`note`, `warning`, `blocking`), `check`,
#'   `message`, `todo`, and where it was seen (`workload`, `segment`, `context`, `metric`,
#'   `arm`, `pass`, `part`). The like of many passes is said once.
#' @name findings
#' @export
#' @examples
#' findings(weigh(data.frame(arm = c("a", "b"), value = c(1, 2)), baseline = "a"))
findings.default <- function(x, ...) {
  assert_no_dots(...)
  in_words(findings_of(x))
}

#' What concerns the rows that are shown
#'
#' A table cut down to some workloads or contexts says nothing about the others, and few frames
#' behind a metric matter where that metric is looked at.
#' @noRd
of_shown <- function(found, verdicts, exploratory) {
  judged <- if (exploratory || !any(verdicts$role == "primary")) TRUE else verdicts$role == "primary"
  found <- of_metrics(found, unique(verdicts$metric[judged]))
  readings <- readings_of(what_was_weighed(verdicts))
  place <- function(t) paste(t$workload, ifelse(is.na(t$context), "", t$context), sep = "\r")
  weighed <- c(place(readings), paste0(unique(readings$workload), "\r"))
  shown <- c(place(verdicts), paste0(unique(verdicts$workload), "\r"))
  elsewhere <- which(place(found) %in% setdiff(weighed, shown))
  found[setdiff(seq_len(nrow(found)), elsewhere), , drop = FALSE]
}

# what concerns a metric that nobody looks at is no matter
of_metrics <- function(found, looked_at) {
  found <- found[is.na(found$metric) | found$metric %in% looked_at, , drop = FALSE]
  several <- which(found$code %in% c("tail", "direction"))
  for (i in several) {
    kept <- found$values[[i]]$metrics %in% looked_at
    found$values[[i]]$metrics <- found$values[[i]]$metrics[kept]
    # each metric's own number goes with it
    if (found$code[i] == "tail") found$values[[i]]$frames <- found$values[[i]]$frames[kept]
  }
  idle <- several[vapply(found$values[several], function(v) !length(v$metrics), NA)]
  found[setdiff(seq_len(nrow(found)), idle), , drop = FALSE]
}

in_words <- function(found) {
  words <- lapply(seq_len(nrow(found)), function(i) finding_words(found[i, ]))
  out <- data.frame(
    severity = found$severity, check = found$code, message = vapply(words, `[`, "", 1),
    todo = vapply(words, `[`, "", 2),
    plain_table(found)[setdiff(finding_columns, c("severity", "code", "values"))]
  )
  once_for_like(out[!found$code %in% told_elsewhere, , drop = FALSE])
}

# seen in single passes; a check of the study says them for all at once
said_for_all <- c("loads", "coarse")

# where a pass came from stands in the history, how it ended among the outcomes
told_elsewhere <- c(
  "taken_from", "stopped", "time_limit", "signal", "exit_status", "nothing_found", "short_log", "not_set", "mismatch",
  "machine_restarted", "runner_ended", "last_said",
  "loads", "coarse", "others"
)

finding_words <- function(one) {
  place <- as.list(plain_table(one)[c("metric", "workload", "segment", "arm", "pass")])
  words <- words_of(one$code, c(one$values[[1]], place[setdiff(names(place), names(one$values[[1]]))]))
  if (!is.na(one$pass) && !one$code %in% c("unreadable", "alone")) words[1] <- paste0("pass ", one$pass, ": ", words[1])
  words
}

# They differ in the pass and its numbers only.
once_for_like <- function(found) {
  like <- gsub("[0-9]+([.][0-9]+)?", "#", sub("^pass [^:]*: ", "", found$message))
  like <- ifelse(is.na(found$pass) | found$check %in% c(
    "corrected", "outcome_corrected", "place_corrected", "undone", "unreadable", "alone"
  ),
  paste(seq_len(nrow(found)), found$message), paste(found$check, like, sep = "\r")
  )
  first <- !duplicated(like)
  more <- as.integer(table(like)[like[first]]) - 1L
  out <- found[first, , drop = FALSE]
  several <- more > 0
  out$message[several] <- paste0(
    out$message[several], " (and the like in ", vapply(
      more[several], count_of, "",
      one = "more pass", many = "more passes"
    ), ")"
  )
  rownames(out) <- NULL
  out
}

#' Words for the passes that a check spoke of in the record of one
#' @noRd
record_words <- function(findings) {
  findings <- findings[!findings$code %in% said_for_all, , drop = FALSE]
  if (!NROW(findings)) {
    return(character())
  }
  vapply(seq_len(nrow(findings)), function(i) words_of(findings$code[i], findings$values[[i]])[1], "")
}

# a message that names its place itself does not say it twice
placed_messages <- function(found) {
  place <- place_names(found[c("workload", "context")])
  named <- is.na(found$workload) | mapply(grepl, found$workload, found$message, fixed = TRUE)
  paste0(ifelse(named, "", paste0(place, ": ")), found$message)
}
