# The readings table: one row per pass and metric. Everything before weighing
# produces it, everything after consumes it.

outcomes <- c(
  "ok", "crash", "down", "freeze", "artefact", "timeout", "no_start", "wrong_setting",
  "interrupted", "lost"
)
roles <- c("counted", "warm_up", "excluded")
reading_columns <- c(
  "arm", "value", "metric", "unit", "better", "workload", "context", "block", "boot", "pass",
  "order", "outcome", "role", "reason", "seconds"
)

#' Fill in and check a readings table
#'
#' @param x Data frame with at least `arm` and `value`.
#' @param known List of metric objects that are known beside the built-in ones.
#' @param better Named character vector: direction by metric, as the tester gave it.
#' @param source What to call the table in messages; `lines` its line numbers there.
#' @return Data frame with all of `reading_columns` plus `scale`; findings in the
#'   attribute `findings`.
#' @noRd
complete_readings <- function(x, known = list(), better = NULL, source = "readings",
                              lines = seq_len(nrow(x))) {
  x <- as.data.frame(x)
  row_of <- function(i) c(source, paste0("line ", some_of(lines[i])))
  missing <- setdiff(c("arm", "value"), names(x))
  if (length(missing)) {
    abort_input(
      paste0("no column '", missing[1], "'"), source,
      paste0("a readings table has at least the columns arm and value; found: ", some_of(names(x), 9))
    )
  }
  if (!nrow(x)) abort_input("no rows", source, "one row per pass and metric is needed")
  findings <- attr(x, "findings")
  x <- fill_columns(x, better)
  check_reading_values(x, row_of)
  resolved <- resolve_rows(x$metric, x$unit, x$better, known_metrics(known))
  if (length(resolved$unknown)) {
    abort_needed(
      paste0("is a higher or a lower '", resolved$unknown[1], "' better?"), source,
      paste0("add a column better, or say it: --better ", resolved$unknown[1], "=lower")
    )
  }
  if (!is.null(x$scale)) resolved$scale <- ifelse(is.na(x$scale), resolved$scale, as.character(x$scale))
  x[c("unit", "better", "scale")] <- resolved[c("unit", "better", "scale")]
  structure(x,
    findings = bind_findings(findings, reading_notes(x, resolved$said)),
    class = c("honestmargin_readings", "data.frame")
  )
}

fill_columns <- function(x, better) {
  n <- nrow(x)
  text <- function(name, default = NA_character_) {
    if (is.null(x[[name]])) {
      return(rep(default, n))
    }
    # few words stand in many rows, so each is looked at once
    words <- unique(x[[name]])
    clean <- trimws(as.character(words))
    clean[is.na(clean) | clean == ""] <- default
    clean[match(x[[name]], words)]
  }
  defaults <- list(
    metric = "score", unit = NA, better = NA, workload = "main", context = NA, block = NA,
    boot = NA, outcome = "ok", role = "counted", reason = NA
  )
  filled <- lapply(names(defaults), function(name) text(name, as.character(defaults[[name]])))
  x[names(defaults)] <- filled
  x$arm <- text("arm")
  x$pass <- text("pass")
  x$pass[is.na(x$pass)] <- as.character(seq_len(n))[is.na(x$pass)]
  x$order <- if (is.null(x$order)) rep(NA_real_, n) else suppressWarnings(as.numeric(x$order))
  x$seconds <- if (is.null(x$seconds)) rep(NA_real_, n) else suppressWarnings(as.numeric(x$seconds))
  said <- x$metric %in% names(better)
  x$better[said] <- unname(better[x$metric[said]])
  x[c(reading_columns, setdiff(names(x), reading_columns))]
}

check_reading_values <- function(x, row_of) {
  if (!is.numeric(x$value)) {
    abort_input("column value is not numeric", row_of(1), "give numbers; leave the cell empty when a pass gave none")
  }
  if (anyNA(x$arm)) {
    abort_input("no arm given", row_of(which(is.na(x$arm))), "say which value of the setting this pass ran with")
  }
  if (any(is.infinite(x$value))) {
    abort_input(
      "value is infinite", row_of(which(is.infinite(x$value))), "leave the cell empty when a pass gave no number"
    )
  }
  check_word(x$outcome, outcomes, "outcome", row_of)
  check_word(x$role, roles, "role", row_of)
  check_word(
    x$better[!is.na(x$better)], c("higher", "lower", "none"), "better",
    function(i) row_of(which(!is.na(x$better))[i])
  )
  silent <- which(x$role == "excluded" & is.na(x$reason))
  if (length(silent)) {
    abort_input("excluded without a reason", row_of(silent), "fill in the column reason: nothing is dropped silently")
  }
  key <- joint_code(x$pass, x$workload, x$metric)
  twice <- which(duplicated(key))
  if (length(twice)) {
    first <- match(key[twice[1]], key)
    abort_input(
      paste0("pass ", x$pass[first], " has '", x$metric[first], "' of workload '", x$workload[first], "' twice"),
      row_of(c(first, twice[1])), "each pass gives one value per workload and metric; give each pass its own id"
    )
  }
  two <- table(x$metric[!duplicated(joint_code(x$metric, x$better)) & !is.na(x$better)])
  if (any(two > 1)) {
    abort_input(
      paste0("'", names(two)[two > 1][1], "' is said to be better both higher and lower"),
      row_of(which(x$metric == names(two)[two > 1][1])[1]), "give one direction per metric"
    )
  }
}

# One number per combination of words: far quicker than pasting them.
joint_code <- function(...) {
  Reduce(function(code, column) {
    words <- unique(column)
    code * length(words) + match(column, words) - 1
  }, list(...), 0)
}

check_word <- function(words, allowed, column, row_of) {
  wrong <- which(!words %in% allowed)
  if (length(wrong)) {
    abort_input(
      paste0("unknown ", column, " '", words[wrong[1]], "'"), row_of(wrong[1]),
      did_you_mean(words[wrong[1]], allowed)
    )
  }
}

reading_notes <- function(x, said) {
  notes <- lapply(names(said), function(id) {
    new_finding("note", "direction", paste0("'", id, "': ", said[[id]], " taken as better, from its unit"),
      "give a column better if that is wrong",
      metric = id
    )
  })
  if (all(is.na(x$order))) {
    notes <- c(notes, list(new_finding(
      "note", "order",
      "the order in which the passes ran is not known, so effects of order (warming, practice) cannot be checked",
      "record a column order"
    )))
  }
  do.call(bind_findings, notes)
}

#' Rows whose value is weighed
#' @noRd
ran_well <- function(x) x$role == "counted" & x$outcome %in% c("ok", "artefact")
is_counted <- function(x) ran_well(x) & !is.na(x$value)

#' The arms in their order: as planned, by number, or as they first appear
#' @noRd
arm_order <- function(arms, planned = NULL) {
  arms <- unique(as.character(arms))
  if (length(planned)) {
    return(c(planned, setdiff(arms, planned)))
  }
  number <- suppressWarnings(as.numeric(arms))
  if (anyNA(number)) arms else arms[order(number)]
}
