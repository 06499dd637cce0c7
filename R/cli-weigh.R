# The verbs that weigh: from a path to a study or readings, and to verdicts.

#' @return A study or a readings table.
#' @noRd
open_input <- function(path, options) {
  if (dir.exists(path)) {
    batch <- if (!is.null(options$batch)) whole_number(options$batch, "batch")
    return(read_study(path, layout = options$layout, batch = batch))
  }
  read_readings(path, better = named_words(options$better, "better", c("higher", "lower")))
}

#' What the options say, as arguments of `weigh()`
#' @noRd
weigh_options <- function(options) {
  list(
    baseline = options$baseline, worth = named_numbers(options$worth, "worth"), primary = split_list(options$primary),
    confidence = confidence_share(options$confidence), steady = options$steady,
    noise = if (!is.null(options$noise)) read_noise(options$noise),
    include_excluded = options$with_excluded, ignore_ceiling = options$no_limiter
  )
}

confidence_share <- function(text) {
  if (is.null(text)) {
    return(NULL)
  }
  value <- suppressWarnings(as.numeric(sub("%$", "", text)))
  if (is.na(value) || value <= 50 || value >= 100) {
    abort_usage(
      paste0("--confidence ", text, ": expected a percentage between 50 and 100"),
      todo = "95 is the usual choice"
    )
  }
  value / 100
}

cli_weigh <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  fail_on <- fail_words(options$fail_on)
  x <- open_input(files[1], options)
  verdicts <- do.call(weigh, c(list(x), weigh_options(options)))
  switch(format,
    csv = writeLines(csv_lines(verdicts)),
    json = writeLines(json_text(
      verdicts = verdicts, findings = findings(verdicts), version = package_version_text()
    )),
    table = writeLines(c(
      verdict_lines(verdicts, options$wide, options$exploratory), outcome_lines(outcome_table(x)),
      limiting_lines(x), finding_lines(findings(verdicts))
    ))
  )
  if (any(verdicts$verdict[verdicts$role == "primary"] %in% fail_on)) 1L else 0L
}

limiting_lines <- function(x) {
  said <- if (inherits(x, "honestmargin_study")) limiting_sentences(limiting_by_arm(x), told_by(x))
  if (length(said)) c("", unlist(lapply(names(said), function(name) fold(paste0(name, " was ", said[[name]])))))
}

fail_words <- function(text) {
  words <- gsub("-", " ", split_list(text), fixed = TRUE)
  known <- names(plain_answers)
  wrong <- setdiff(words, known)
  if (length(wrong)) {
    abort_usage(
      paste0("--fail-on names '", wrong[1], "', which is no verdict"),
      todo = did_you_mean(wrong[1], known)
    )
  }
  # a clear loss is a loss too
  unique(c(words, paste("clear", intersect(words, c("gain", "loss")))))
}
