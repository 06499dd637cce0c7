# A description as a person reads it in a terminal.

#' @param long Also every sensor, how all passes ended, and what to do about each finding.
#' @noRd
description_lines <- function(x, exploratory = FALSE, long = FALSE) {
  labels <- labels_of(x)
  values <- shown_values(x, exploratory)
  several <- "machine" %in% names(x$values)
  sure <- show_share(attr(x, "confidence"))
  sensors <- if (!several) sensor_lines(x$values, labels)
  # those of one machine fit beside its numbers
  few <- long || length(sensors) < 18
  c(
    if (nzchar(labels$question) && !several) c(fold(labels$question, rest = ""), ""),
    if (several) side_lines(x, values, labels) else one_lines(x, values, labels),
    if (!several && NROW(x$facts)) c("", fold(facts_words(x$facts, labels))),
    "", fold(paste0(
      "No comparison. Each mean has its own ", sure, " interval, for passes like these here.", hidden_words(x, values)
    ), rest = ""),
    if (few) sensors,
    if (!several && long) outcome_lines(x$outcomes, labels, setdiff(x$outcomes$workload, x$values$workload)),
    if (!several) event_lines(attr(x, "weighed"), labels),
    if (!is.null(x$limiting) && !several) limiting_text(limiting_sentences(x$limiting, labels)),
    if (!several) described_findings(findings(x, exploratory = exploratory), long),
    if (several) side_read(attr(x, "weighed")) else shown_read(x),
    if (!long && length(sensors) && !few) {
      c(
        paste0(count_of(length(sensors) - 4, "row"), " of sensors: --long, or"),
        "  honestmargin figure STUDY --of sensors --file sensors.png"
      )
    }
  )
}

# each in one sentence; what to do stands in the long form
described_findings <- function(found, long) {
  if (long || !nrow(found)) {
    return(finding_lines(found))
  }
  c("", paint_severity(unlist(lapply(placed_messages(found), fold, first = "! ", rest = "  "))))
}

# what was read of each, by its name
side_read <- function(each) {
  lines <- lapply(names(each), function(name) {
    said <- read_lines(each[[name]])
    if (length(said)) fold(c(paste0(name, ": ", said[1]), said[-1]), rest = "  ")
  })
  if (length(unlist(lines))) c("", unlist(lines))
}

hidden_words <- function(x, values) {
  hidden <- NROW(x$values) - NROW(values)
  if (hidden > 0) paste0(" ", count_of(hidden, "further number"), " not shown (--exploratory).") else ""
}

one_lines <- function(x, values, labels) {
  ended <- fold(ending_sentences(x$outcomes, values, labels))
  if (is.null(values)) {
    return(ended)
  }
  many <- length(unique(values$arm)) > 1
  # of several arms the table says it shorter
  said <- c(if (!many) fold(description_sentences(values, labels)), ended)
  c(
    said, if (length(said)) "",
    table_lines(values_shown(values, labels), c("worst", "best", "n"),
      whole = c("mean", "interval", "noise"), group = c("workload", "context")
    )
  )
}

sensor_lines <- function(values, labels) {
  table <- if (!is.null(values)) sensors_shown(values, labels)
  if (!is.null(table)) {
    c("", "Sensors:", "", table_lines(table, c("mean", "highest"), whole = "sensor", group = "workload"))
  }
}

side_lines <- function(x, values, labels) {
  shown <- x
  shown$values <- values
  facts <- facts_side_by_side(x$facts, unique(x$values$machine))
  c(
    table_lines(side_by_side(shown, labels), group = "workload"),
    if (NROW(facts$differ)) c("", table_lines(facts$differ)),
    if (length(facts$same)) c("", fold(paste0("The same in all: ", facts$same, "."), rest = "  "))
  )
}

limiting_text <- function(said) {
  if (length(said)) c("", unlist(lapply(names(said), function(name) fold(paste0(name, ": ", said[[name]])))))
}

register("shown", "describe", lines = description_lines)
