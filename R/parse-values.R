# The cells of a table as numbers: units behind them, and spreads.

# numbers with units that are not all the same
assert_one_unit <- function(rows, id, path, row) {
  unit <- trimws(sub("^[-+]?[0-9][0-9.,:]*", "", trimws(rows$value)))
  unit[!grepl("[0-9]", rows$value)] <- NA
  other <- which(unit != unit[!is.na(unit)][1])
  if (length(other) && all(grepl("^[[:alpha:]%\u00b0]*[[:alpha:]%/]*$", unit[!is.na(unit)]))) {
    abort_input(
      paste0(
        "'", rows$value[!is.na(unit)][1], "' and '", rows$value[other[1]], "' (", id, ") do not have the same unit"
      ), c(path, paste(row, rows$.line[other[1]])), "write all numbers of a column in one unit"
    )
  }
}

# "103 fps" in each cell of a metric is a number with its unit
units_behind <- function(long, ids) {
  for (id in unique(ids)) {
    rows <- which(ids == id & grepl("[0-9]", long$value))
    text <- trimws(long$value[rows])
    unit <- unique(trimws(sub("^[-+]?[0-9][0-9.,:]*", "", text)))
    if (length(unit) != 1 || !grepl("^[[:alpha:]%\u00b0][[:alpha:]%/]*$", unit)) next
    if (is.null(long$unit)) long$unit <- NA_character_
    # numbers without one, and a heading that says another, are left for an error
    if (!all(grepl("^[-+]?[0-9]", text)) || !all(is.na(long$unit[rows]) | long$unit[rows] == unit)) next
    long$value[rows] <- trimws(substr(text, 1, nchar(text) - nchar(unit)))
    # a pass without a number has the unit too
    long$unit[ids == id & is.na(long$unit)] <- unit
  }
  long
}

#' "135.2 \u00b1 1.3" is the number of a pass and its spread; of one row an arm it is a mean, and no pass
#' @return A list: `long`, `findings`.
#' @noRd
spreads_behind <- function(long, ids, path) {
  mark <- "^([-+]?[0-9][0-9.,]*)\\s*(\u00b1|[+]/-|[+]-)\\s*[0-9][0-9.,]*(.*)$"
  findings <- NULL
  for (id in unique(ids)) {
    rows <- which(ids == id & grepl(mark, long$value))
    if (!length(rows)) next
    of <- do.call(paste, c(unname(as.list(long[intersect(c("workload", "context", "arm"), names(long))])), sep = "\r"))
    if (!all(table(of[rows]) > 1)) {
      abort_needed(
        paste0("'", long$value[rows[1]], "' (", id, ") is a mean with its spread, which is no pass"), path,
        "give a row to each pass, its number alone; of what somebody published: honestmargin claim"
      )
    }
    long$value[rows] <- sub(mark, "\\1\\3", long$value[rows])
    findings <- bind_findings(findings, new_finding("note", "spread_behind", metric = id))
  }
  list(long = long, findings = findings)
}

abort_words <- function(column, said, path) {
  abort_input(
    paste0("column '", column, "' holds words: ", some_of(unique(stats::na.omit(said)), 3)), path,
    paste0(
      "if they say what was run: --columns workload=", as_typed(column),
      "; if each is a pass's end, call the column outcome; otherwise leave it out"
    )
  )
}

read_values <- function(long, table, path) {
  ended <- ends_in_cells(long)
  long <- whole_passes(ended$long, table$given)
  ids <- if ("metric" %in% names(long)) ifelse(is.na(long$metric), "score", long$metric) else rep("score", nrow(long))
  spread <- spreads_behind(long, ids, path)
  findings <- bind_findings(table$findings, ended$findings, spread$findings)
  long <- units_behind(spread$long, ids)
  value <- rep(NA_real_, nrow(long))
  # one cell that can only have a decimal comma speaks for the whole table
  decimal <- if (
    table$decimal == "point" || any(grepl(paste0(only_comma, "|:[0-9]+,[0-9]+$"), trimws(long$value)))
  ) {
    table$decimal
  } else {
    "unsure"
  }
  for (id in unique(ids)) {
    rows <- which(ids == id)
    parsed <- parse_typed_numbers(long$value[rows], decimal)
    if (length(parsed$bad)) {
      at <- rows[parsed$bad[1]]
      if (!any(grepl("^[-+.,]?[0-9]", trimws(long$value[rows])))) abort_words(id, long$value[rows], path)
      assert_one_unit(long[rows, , drop = FALSE], id, path, empty_to(table$row, "line"))
      abort_input(
        paste0("'", substr(plain_text(long$value[at]), 1, 40), "' is not a number (", id, ")"),
        c(path, paste(empty_to(table$row, "line"), long$.line[at])),
        paste(
          "write the number alone (12.5, 1,234 or 1:05.2) or the same unit behind each; leave the cell empty when the",
          "pass gave none, or write how it ended: crash, freeze, down, timeout, no start"
        )
      )
    }
    value[rows] <- parsed$value
    if (any(parsed$clock)) {
      if (is.null(long$unit)) long$unit <- NA_character_
      # "min:s", "h:mm:ss or m:ss"
      long$unit[rows][is.na(long$unit[rows]) | grepl("^[hmin: or]*:ss?[hms: or]*$", tolower(long$unit[rows]))] <- "s"
      findings <- bind_findings(findings, new_finding("note", "clock_times", metric = id))
    }
    if (any(parsed$guessed)) {
      at <- rows[parsed$guessed][1]
      findings <- bind_findings(findings, new_finding("warning", "guessed_number",
        typed = long$value[at], read = show_exact(parsed$value[parsed$guessed][1]), metric = id
      ))
    }
    if (any(parsed$grouped)) {
      findings <- bind_findings(findings, new_finding("note", "grouped_number",
        typed = long$value[rows][parsed$grouped][1], read = show_exact(parsed$value[parsed$grouped][1]), metric = id
      ))
    }
  }
  long$value <- value
  list(cells = number_columns(long, path, empty_to(table$row, "line")), findings = findings)
}
