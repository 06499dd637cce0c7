# Warm-ups by what they are called: the name of a log, the label of a pass, a heading, a note.

warm_words <- "(^|[^[:alpha:]])(warm[ _.-]*up|warmlauf|aufw(\u00e4|ae)rm[[:alpha:]]*)([^[:alpha:]]|$)"

says_warm_up <- function(text) grepl(warm_words, text, ignore.case = TRUE)

# what a name says besides: neither that it is a warm-up, nor which pass it is
besides_warm_up <- function(text) {
  rest <- gsub("[^[:alpha:]]+", " ", sub(warm_words, " ", tolower(text)))
  counting <- setdiff(c(words_of_repeats, words_before_number), c("", "#"))
  trimws(gsub(paste0("\\b(", paste(counting, collapse = "|"), ")\\b"), " ", rest))
}

#' Which files are warm-ups by their names
#'
#' Each belongs to others that are called alike and are none. Where that leaves one group, as many of both may be what
#' is compared.
#' @return Logical, one for each name.
#' @noRd
warm_ups_among <- function(names) {
  warm <- says_warm_up(names)
  if (!any(warm)) {
    return(warm)
  }
  group <- gsub(" +", " ", besides_warm_up(sub(output_ending, "", names)))
  counted <- table(group[!warm])
  warm <- warm & group %in% names(counted)[counted > 1]
  if (length(counted) == 1 && sum(warm) >= sum(!warm)) rep(FALSE, length(names)) else warm
}

#' Rows that are warm-ups by what they are called, marked so
#' @return As the other steps of `settle_sheet()` give it.
#' @noRd
mark_warm_ups <- function(cells, unnamed = NULL) {
  if ("role" %in% names(cells)) {
    return(list(cells = cells))
  }
  warm <- rep(FALSE, nrow(cells))
  words <- character()
  settled <- cells
  # a scene may be called so
  apart <- c(".line", "value", "metric", "unit", "better", "reason", "workload", "segment", "context")
  for (name in setdiff(names(cells), apart)) {
    found <- warm_ups_of_column(cells, name)
    if (is.null(found)) next
    warm <- warm | found$warm
    words <- c(words, if (says_warm_up(name)) name else cells[[name]][found$warm])
    settled[[name]] <- found$column
  }
  # an arm that has nothing else is not left without a pass
  lone <- "arm" %in% names(settled) && length(setdiff(settled$arm, settled$arm[!warm])) > 0
  if (!any(warm) || all(warm) || lone) {
    return(list(cells = cells))
  }
  settled$role <- ifelse(warm, "warm_up", "counted")
  told <- new_finding("note", "warm_ups_named", n = count_of(sum(warm), "row"), words = unique(words))
  list(cells = settled, findings = told)
}

#' @return `NULL` where a column says nothing of it; else a list: `warm`, `column` (what is left of it, `NULL` for
#'   nothing).
#' @noRd
warm_ups_of_column <- function(cells, name) {
  v <- cells[[name]]
  if (says_warm_up(name) && !name %in% reading_columns) {
    yes <- tolower(v) %in% words_yes
    no <- is.na(v) | tolower(v) %in% words_no
    return(if (any(yes) && all(yes | no)) list(warm = yes))
  }
  hit <- says_warm_up(v)
  if (!any(hit) || all(hit)) {
    return(NULL)
  }
  if (name == "arm") {
    # "off (warm-up)" is one of "off"
    arm <- trimws(gsub("[[:space:]([{_.,:;-]+$", "", sub(paste0(warm_words, ".*$"), "", v[hit], ignore.case = TRUE)))
    return(if (all(arm %in% v[!hit])) list(warm = hit, column = replace(v, hit, arm)))
  }
  if (name == "pass") {
    return(list(warm = hit, column = v))
  }
  # "no warm-up was done" is another thing
  hit <- hit & !nzchar(besides_warm_up(v))
  if (!any(hit)) {
    return(NULL)
  }
  said_only <- !name %in% c(reading_columns, headed_as(name, "note")) && length(unique(v[!hit])) < 2
  list(warm = hit, column = if (!said_only) v)
}

# columns that hold a pass before those that count; a "warm-up time" was measured
leave_warm_columns <- function(cells) {
  others <- setdiff(names(cells), c(reading_columns, ".line"))
  warm <- others[says_warm_up(others)]
  arms <- if (!"arm" %in% names(cells)) besides_warm_up(setdiff(others, warm))
  warm <- warm[besides_warm_up(warm) %in% c("", arms)]
  if (!length(warm) || length(warm) == length(others)) {
    return(list(cells = cells))
  }
  list(cells = cells[!names(cells) %in% warm], findings = warm_ups_left("column", warm))
}

warm_ups_left <- function(what, named) {
  new_finding("note", "warm_ups_left_out", what = count_of(length(named), what), named = named)
}
