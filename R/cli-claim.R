# The verb `claim`: two figures somebody published, or a table of them.

cli_claim <- function(files, options) {
  format <- one_word(options$format, "format", c("table", "csv", "json"), "table")
  if (length(files) == 1 && grepl("^[-+]?[0-9.,]+%?$", files) && !file.exists(files)) {
    abort_usage("two figures are needed", todo = "claim 71.2 73.0, or a table with the columns from and to")
  }
  asked <- if (length(files) == 1) claims_in_file(files) else typed_claim(files)
  given <- if (!is.null(options$passes)) claimed_passes(options$passes)
  rounded <- if (!is.null(options$rounded)) named_numbers(options$rounded, "rounded")
  claims <- weigh_claims(asked$from, asked$to,
    passes = empty_to(given, asked$passes), rounded = empty_to(rounded, asked$rounded),
    confidence = empty_to(confidence_share(options$confidence), 0.95),
    spread = empty_to(if (!is.null(options$spread)) claimed_spread(options$spread), empty_to(asked$spread, NA)),
    name = asked$name
  )
  show_answer(claims, format)
}

typed_claim <- function(words) {
  for (word in words) {
    if (grepl("%", word, fixed = TRUE)) {
      abort_usage(paste0("'", word, "' is a percentage"), todo = "give the two figures that it was made of")
    }
    if (grepl("[0-9]\\s*(-|to|\u2013)\\s*[0-9]", word)) {
      abort_usage(paste0("'", word, "' is a range"), todo = "give one figure per side, such as its middle")
    }
  }
  # a unit that both have changes nothing
  unit <- sub("^[-+0-9.,:' eE]*[0-9]", "", words)
  alike <- unit[1] == unit[2] && grepl("^ ?[[:alpha:]\u00b0/]+$", unit[1])
  if (alike) words <- substr(words, 1, nchar(words) - nchar(unit))
  read <- parse_typed_numbers(words)
  if (length(read$bad) || anyNA(read$value)) {
    wrong <- words[c(read$bad, which(is.na(read$value)))[1]]
    abort_usage(paste0("'", wrong, "' is not a number"), todo = "claim 71.2 73.0")
  }
  list(from = read$value[1], to = read$value[2], passes = 1, rounded = max(typed_step(words, read$grouped)))
}

# "73.0" is rounded to 0.1; a number without decimals may be exact
typed_step <- function(words, grouped = FALSE) {
  # the first mark of a number with thousands separators is none of decimals
  words <- ifelse(rep_len(grouped, length(words)), sub("^(.*[.,' ][0-9]{3})", "0", words), words)
  tens <- suppressWarnings(as.numeric(sub("^.*[eE]", "", words)))
  tens[!grepl("[eE]", words)] <- 0
  decimals <- nchar(sub("^[^.,]*[.,]?", "", sub("[eE].*$", "", words)))
  ifelse(decimals > 0, 10^(tens - decimals), 0)
}

claimed_passes <- function(text) {
  value <- suppressWarnings(as.numeric(split_list(text)))
  if (anyNA(value) || any(value < 1) || any(value != round(value)) || length(value) > 2) {
    abort_usage(paste0("--passes ", text, ": expected a whole number, or one per side"), todo = "--passes 3, or 3,5")
  }
  if (length(value) == 2) as.list(value) else value
}

claimed_spread <- function(text) {
  read <- parse_typed_numbers(split_list(text))
  if (length(read$bad) || anyNA(read$value) || length(read$value) > 2) {
    abort_usage(paste0("--spread ", text, ": expected a number, or one per side"), todo = "--spread 1.1, or 1.1,1.3")
  }
  if (length(read$value) == 2) as.list(read$value) else read$value
}

claims_in_file <- function(path) {
  cells <- read_text_table(path, "table of claims")$cells
  for (column in c("from", "to")) {
    if (!column %in% names(cells)) {
      abort_input(paste0("no column '", column, "'"), path, "a table of claims has the columns from and to")
    }
  }
  number <- function(column, default) {
    if (!column %in% names(cells)) {
      return(rep(default, nrow(cells)))
    }
    read <- parse_typed_numbers(cells[[column]])
    bad <- sort(c(read$bad, which(is.na(read$value) & column %in% c("from", "to"))))
    if (length(bad)) {
      abort_input(
        paste0("column ", column, ": '", plain_text(cells[[column]][bad[1]]), "' is not a number"),
        c(path, paste("line", cells$.line[bad[1]])), "give the figure itself: no percent sign, no range"
      )
    }
    ifelse(is.na(read$value), default, read$value)
  }
  text <- function(column) ifelse(is.na(cells[[column]]), "", cells[[column]])
  step <- pmax(typed_step(text("from")), typed_step(text("to")))
  name <- intersect(c("claim", "metric", "workload", "name"), names(cells))
  # one column for both figures, or one for each
  sides <- function(column, default) {
    lapply(paste0(column, c("_from", "_to")), function(own) {
      number(if (own %in% names(cells)) own else column, default)
    })
  }
  list(
    from = number("from", NA), to = number("to", NA), passes = sides("passes", 1), spread = sides("spread", NA),
    rounded = if ("rounded" %in% names(cells)) number("rounded", 0) else step,
    name = if (length(name)) text(name[1])
  )
}

register("verb", "claim",
  takes = "FROM TO | FILE", files = c(1, 2), run = cli_claim,
  examples = c(
    "claim 71.2 73.0 --passes 3",
    "claim 71.2 73.0 --passes 3 --spread 0.5,0.7"
  ),
  about = "How quiet passes must have been for a published gap to stand.",
  options = function() {
    c(list(
      passes = option_text("N", "passes behind each figure (3), or behind one and the other (3,5); default 1"),
      rounded = option_text("STEP", "step of rounding of the figures (default: their last digit)"),
      spread = option_text("SD", "standard deviation of the passes behind each figure, or one per side (0.5,0.7)")
    ), shared_options("confidence", "format"))
  },
  rank = 17.7
)
