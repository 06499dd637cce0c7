# How a table is laid out: where the arm of a number stands. One recogniser for each layout, each strict; exactly one
# has to fit.

#' Where the arms stand
#' @param sheet A list: `grid`, `head`, `kinds`, `body` (rows that may be passes), `lone` (rows of one cell), `roles`.
#' @param said What the tester said.
#' @return `sheet` with `layout` (`rows`, `across`, `above`, `below`, `sections`, `parts` or `given`) and what it needs;
#'   or with a question.
#' @noRd
find_layout <- function(sheet, said) {
  roles <- sheet$roles
  arm <- which(roles$role %in% "arm" & !roles$beside)
  places <- baseline_places(sheet, said$baseline)
  if (length(arm) > 1) {
    return(asking(sheet, two_columns("arm", roles$name[arm])))
  }
  if (length(arm)) {
    held <- is.null(said$baseline) || said$baseline %in% sheet$grid$cells[sheet$body, arm]
    if (!held && arm %in% places$parts) {
      return(with_layout(sheet, "parts", arm))
    }
    return(with_layout(sheet, "rows", arm))
  }
  if (!is.null(said$arm)) {
    return(with_layout(sheet, "given"))
  }
  if (ncol(sheet$grid$cells) == 1) {
    abort_input(
      "one column only", sheet$grid$source, paste(
        "separate the columns by commas, semicolons or tabs; at least arm and a score are needed;",
        "of one machine alone: honestmargin describe FILE --arm NAME"
      )
    )
  }
  fits <- names(Filter(length, places))
  # a heading is no arm where a column holds it; parts of labels are looked at only where it stands nowhere by itself
  if ("parts" %in% fits && length(fits) > 1) fits <- setdiff(fits, "parts")
  if (length(fits) != 1 || fits %in% c("rows", "parts") && length(places[[fits]]) > 1) {
    return(asking(sheet, ask_arm(sheet, said, places)))
  }
  with_layout(sheet, fits, places[[fits]])
}

#' In which places the baseline stands
#' @noRd
baseline_places <- function(sheet, baseline) {
  if (is.null(baseline)) {
    return(list())
  }
  roles <- sheet$roles
  cells <- sheet$grid$cells
  free <- which(is.na(roles$role) | roles$beside | roles$role %in% c("arm", "pass"))
  holds <- vapply(free, function(j) baseline %in% cells[sheet$body, j] && !counts_up(cells[sheet$body, j], 3), NA)
  columns <- free[holds & !roles$role[free] %in% "pass"]
  parts <- free[vapply(free, function(j) labels_split(cells[sheet$body, j], baseline), NA)]
  list(
    rows = columns, across = which(heads_arm(roles, baseline) & is.na(roles$label)),
    below = which(roles$name %in% baseline & !is.na(roles$label) & !roles$label %in% baseline),
    above = which(roles$label %in% baseline),
    sections = sheet$lone[section_title(cells[cbind(sheet$lone, sheet$lone_at)]) %in% baseline],
    parts = parts
  )
}

# 1, 2, 3 ... from row to row, of so many rows at least
counts_up <- function(v, least) length(v) >= least && identical(v, as.character(seq_along(v)))

section_title <- function(text) trimws(sub("[:=]+$", "", sub("^[-=#* ]+", "", text)))

# "off", "off 1", "off run 2", "on (fps)" above a column of numbers
heads_arm <- function(roles, baseline) {
  free <- is.na(roles$role) | roles$by %in% "values"
  free & !is.na(roles$name) & roles$type %in% c("number", "mixed", "end") &
    (roles$name == baseline | split_label(roles$name)$arm %in% baseline)
}

label_break <- paste0(
  "^(.*?[^-_ .(/#])[-_ .(/#]*?(?:[-_ .(/](?:", paste(setdiff(c(words_of_pass, "no", "nr"), "#"), collapse = "|"),
  ")[-_ .#]*|[-_ .(/#]+)([0-9]{1,3})\\)?$"
)

#' Labels that hold an arm and the number of its pass: "off-1", "off (run 2)"
#' @return A list: `arm`, `pass`, `NA` where a label has no such form.
#' @noRd
split_label <- function(text) {
  parts <- regmatches(text, regexec(label_break, text, ignore.case = TRUE, perl = TRUE))
  found <- lengths(parts) == 3
  part <- function(i) replace(rep(NA_character_, length(text)), found, vapply(parts[found], `[`, "", i + 1))
  list(arm = trimws(part(1)), pass = part(2))
}

# every label splits, one part is the baseline and the others number 1..n
labels_split <- function(v, baseline) {
  v <- v[!is.na(v) & !is_summary(v)]
  split <- split_label(v)
  if (!length(v) || anyNA(split$arm) || !baseline %in% split$arm || length(unique(split$arm)) < 2) {
    return(FALSE)
  }
  all(vapply(split(as.integer(split$pass), split$arm), function(n) setequal(n, seq_along(unique(n))), NA))
}

with_layout <- function(sheet, kind, at = NULL) {
  sheet$layout <- list(kind = kind, at = at)
  if (kind %in% c("rows", "parts")) {
    here <- sheet$roles$column %in% at
    sheet$roles$by[here & !sheet$roles$role %in% "arm"] <- "values"
    sheet$roles$role[here] <- "arm"
    sheet$roles$beside[here] <- FALSE
  }
  # words that are a second factor beside the arm are that now
  sheet$roles$beside <- FALSE
  sheet
}

asking <- function(sheet, question) {
  sheet$questions <- c(sheet$questions, list(question))
  sheet
}

two_columns <- function(role, names) {
  new_question(
    paste0("two_", role), paste0("two columns may be the ", role, ": ", some_of(names)),
    lapply(names, function(n) column_choice(role, n, paste0("'", n, "' is")))
  )
}

#' Which column or heading is the arm?
#' @noRd
ask_arm <- function(sheet, said, places) {
  roles <- sheet$roles
  cells <- sheet$grid$cells[sheet$body, , drop = FALSE]
  named <- which(!is.na(roles$name) & (is.na(roles$role) | roles$beside) & roles$type != "empty")
  varies <- named[vapply(named, function(j) length(unique(stats::na.omit(cells[, j]))) > 1, NA)]
  several <- varies[vapply(varies, function(j) anyDuplicated(stats::na.omit(cells[, j])) > 0, NA)]
  able <- if (length(unlist(places[c("rows", "parts")]))) {
    intersect(varies, unlist(places[c("rows", "parts")]))
  } else {
    union(varies[roles$type[varies] == "word"], several)
  }
  numbers <- roles$name[named[roles$type[named] == "number"]]
  choices <- c(
    lapply(able, function(j) {
      column_choice("arm", roles$name[j], paste0(
        "the column '", roles$name[j], "' (", some_of(unique(cells[, j]), 4),
        ")"
      ))
    }),
    if (!length(unlist(places)) && length(numbers) > 1) {
      list(offer(paste0("each of the columns ", some_of(numbers, 4), " is one"), "baseline", numbers[1]))
    }
  )
  seen <- if (is.null(said$baseline)) {
    paste0(
      "which column holds the value of the setting (the arm)? found: ",
      some_of(roles$name[!is.na(roles$name)], 9)
    )
  } else if (!length(unlist(places))) {
    paste0("the baseline '", said$baseline, "' stands nowhere in the table; which column holds the arm?")
  } else {
    paste0("the baseline '", said$baseline, "' stands in several places; which of them is the arm?")
  }
  new_question("arm", seen, choices)
}
