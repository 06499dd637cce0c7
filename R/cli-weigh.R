# The verbs that weigh: from a path to a study or readings, and to verdicts.

#' Verdicts on what a path holds: of one batch, or of all of them side by side
#' @param x From `open_input()`; not looked at where all batches are asked for.
#' @noRd
weigh_input <- function(path, options, x) {
  if (all_batches(path, options)) {
    return(do.call(weigh_batches, c(list(path), weigh_options(options))))
  }
  weigh_remembering(x, weigh_options(options), memory = !isTRUE(options$no_memory))
}

#' What the options say, as arguments of `weigh()`
#' @noRd
weigh_options <- function(options) {
  list(
    baseline = options$baseline, worth = named_numbers(options$worth, "worth"), primary = split_list(options$primary),
    confidence = confidence_share(options$confidence), steady = options$steady,
    noise = if (!is.null(options$noise)) known_noise(options$noise),
    with_excluded = options$with_excluded, no_limiter = options$no_limiter, looks = options$looks,
    against = against_asked(options$against),
    setting_limits = options$setting_limits, own_noise = options$own_noise
  )
}

# one of the words, or arms in the order of the steps
against_asked <- function(text) {
  arms <- split_list(text)
  if (length(arms) > 1) arms else one_word(text, "against", against_words, "baseline")
}

# the repeats of the baseline, or a table
known_noise <- function(text) {
  if (text %in% c("baseline", "memory") && !file.exists(text)) text else read_noise(text)
}

confidence_share <- function(text) {
  if (is.null(text)) {
    return(NULL)
  }
  percent <- grepl("%$", text)
  value <- suppressWarnings(as.numeric(sub("%$", "", text))) / (if (percent) 100 else 1)
  if (is.na(value) || value <= 0.5 || value >= 1) {
    abort_usage(
      paste0("--confidence ", text, ": expected a share between 0.5 and 1, or a percentage with its sign"),
      todo = "0.95, or 95%, is the usual choice"
    )
  }
  value
}

cli_weigh <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  fail_on <- fail_words(options$fail_on)
  x <- if (!all_batches(files[1], options)) open_input(files, options)
  if (!is.null(x) && has_one_arm(x)) {
    tell_user("one arm only: nothing is compared; this describes it (honestmargin describe)")
    return(describe_shown(x, options, format))
  }
  verdicts <- only_rows(
    weigh_input(files[1], options, x),
    split_list(options$workload), split_list(options$metric), split_list(options$context)
  )
  otherwise <- after_the_fact(verdicts)
  batches <- attr(verdicts, "batches")
  switch(format,
    # what was asked for after the seal has the code after_the_fact in its rows
    csv = writeLines(csv_lines(stack_rows(list(empty_to(batches, plain_table(verdicts)), otherwise$verdicts)))),
    json = writeLines(do.call(json_text, c(
      list(
        headline = headline(verdicts), sentences = as.list(sentences(verdicts)), verdicts = verdicts,
        findings = findings(verdicts, exploratory = TRUE),
        left_out = passes_without_value(passes_of(what_was_weighed(verdicts)))
      ),
      if (!is.null(read_as_list(verdicts))) list(read = read_as_list(verdicts)),
      if (!is.null(batches)) list(batches = plain_json(batches)),
      if (!is.null(otherwise)) list(after_the_fact = lapply(otherwise, plain_json)),
      list(version = package_version_text())
    ))),
    table = writeLines(c(
      verdict_lines(verdicts, options$wide, options$exploratory, options$long, follow_ups("weigh", files, options)),
      if (!isTRUE(options$no_memory)) single_lines(verdicts)
    ))
  )
  if (any(verdicts$verdict[verdicts$role == "primary"] %in% fail_on)) 1L else 0L
}

# beside the noise that a single reading would exceed, what is known of such noise here
single_lines <- function(verdicts) {
  open <- has_code(verdicts$codes, "break_even")
  said <- if (any(open)) usual_noise_words(usual_noise(unique(verdicts$metric[open])))
  if (!is.null(said)) c("", fold(said, rest = ""))
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
  # a clear loss is a loss too, and never to hold is the worst of them
  unique(c(words, paste("clear", intersect(words, c("gain", "loss"))), if ("loss" %in% words) "does not hold"))
}

register("verb", "weigh",
  takes = "FILE|STUDY|LOGS", files = c(1, Inf), run = cli_weigh,
  examples = c(
    "weigh my-study",
    "weigh my-study --against all --format csv"
  ),
  about = "Weigh the arms against the baseline.",
  options = function() {
    c(weighing_options(), shared_options("workload", "metric", "context", "format", "wide", "long"), list(
      save = option_text("FOLDER", "keep what has no plan as a study folder"),
      exploratory = option_flag("also the comparisons outside the family"),
      `fail-on` = option_text("V,V", "exit with 1 when a primary verdict is one of these: loss, gain, unclear, ...")
    ))
  },
  rank = 17
)
