# What a heading says by itself: which column it is, or what was measured. The words are a file
# (inst/headings/headings.csv), so that anyone can add to them; a heading has one role.

known_headings <- function() {
  made_once("headings", function() {
    utils::read.csv(system.file("headings", "headings.csv", package = "honestmargin"),
      colClasses = "character", encoding = "UTF-8", na.strings = ""
    )
  })
}

# roles that a column may be given: those of readings, and what is none of them
column_roles <- c(
  reading_columns, "note", "when", "measured", "status", "valid", "excluded", "minutes", "hours",
  "warm_up", "loop", "look", "attribute", "battery_start", "battery_end"
)

heading_key <- function(text) {
  key <- gsub("[[:space:]_]+", " ", tolower(trimws(without_unit(text))))
  # "run #", "Lauf Nr."
  bare <- sub(" *#$| (no|nr|number|nummer|num)[.]?$", "", key)
  ifelse(has_text(bare), bare, key)
}

# "load time (s)", "load time [s]"
without_unit <- function(heading) sub("\\s*[([][^([]+[])]\\s*$", "", heading)

#' What each text means, by lists of words that mean the same
#' @param words Named list. @return Names of it, `NA` for a text that is none of its words.
#' @noRd
meant_by <- function(text, words) rep(names(words), lengths(words))[match(text, unlist(words))]

#' The roles of headings
#' @return A data frame: `role`, `NA` where a heading says none; `beside`: that only where another column is the arm.
#' @noRd
roles_of_headings <- function(names) {
  known <- known_headings()
  key <- heading_key(names)
  at <- match(key, known$heading)
  role <- ifelse(known$kind[at] %in% c("column", "beside"), known$name[at], known$kind[at])
  role[role %in% "metric"] <- "measured"
  role[is.na(role) & key %in% c(setdiff(words_of_pass, "test"), "no", "nr", "nr.", "no.")] <- "pass"
  own <- tolower(names) %in% column_roles
  role[own] <- tolower(names)[own]
  data.frame(role = role, beside = known$kind[at] %in% "beside" & !own)
}

# words before the number of a pass
words_of_pass <- c(
  "run", "pass", "test", "try", "trial", "rep", "repeat", "repetition", "attempt", "iteration", "measurement", "take",
  "lauf", "durchlauf", "durchgang", "messung", "versuch", "wiederholung", "#", "r"
)

#' The number of a pass that a text is: "run 2", "#3", and with `bare` "2"
#' @return Whole numbers, `NA` for other texts.
#' @noRd
pass_number <- function(text, bare = TRUE) {
  shape <- paste0("^(", paste(words_of_pass, collapse = "|"), if (bare) "|", ")[ _.#:-]*([0-9]{1,3})$")
  found <- grepl(shape, tolower(text))
  out <- rep(NA_integer_, length(text))
  out[found] <- as.integer(sub("^.*?([0-9]+)$", "\\1", text[found], perl = TRUE))
  out
}

#' Is one of these headings that of the arm?
#' @noRd
name_the_arm <- function(headings) any(roles_of_headings(headings)$role %in% "arm")

#' The unit that a name ends in, as programs write it: `latency_ms`, `avg.fps`; not `ops_per_ms`
#' @noRd
unit_of_tail <- function(name) {
  degrees <- sub("^.* (\u00b0[CF]|MHz|GHz|[MG]i?B/s|dBA?|%|W)$", "\\1", name)
  if (degrees != name) {
    return(degrees)
  }
  tail <- regmatches(name, regexec("[_. -](ms|us|ns|fps|FPS)$|_(s|sec|seconds)$", name))[[1]]
  if (!length(tail) || grepl("per[_. -]?[a-z]+$", name, ignore.case = TRUE)) {
    return(NA_character_)
  }
  if (nzchar(tail[2])) tolower(tail[2]) else "s"
}

#' The unit that a metric so called has, where it is a word of the trade
#' @return `NA` where nothing is said.
#' @noRd
unit_by_heading <- function(name) {
  known <- known_headings()
  known <- known[known$kind == "metric", ]
  known$unit[match(heading_key(name), known$heading)]
}

#' Is this heading known as a number that is measured?
#' @noRd
names_a_metric <- function(headings) measured_by_heading(headings) | has_word(headings, quantity_words)

#' Does a heading leave no doubt that its numbers were measured? A price, a clock may be what was set
#' @noRd
measured_by_heading <- function(headings) {
  unit <- vapply(headings, function(h) empty_na(unit_said(h)$unit), "")
  nzchar(unit) | headings %in% captured_ids() | !is.na(better_from_name(headings, unit)) | is_unit(headings)
}

# what a number so called measures, whichever direction is better
quantity_words <- paste0(
  "fps|score|scores|points|punkte|time|zeit|temp|temperature|temperatur|power|watts?|leistung|verbrauch|clock|takt|",
  "frequency|latency|latenz|delay|bandwidth|throughput|durchsatz|noise|price|preis|lows?|frametimes?|frames?"
)

#' What the name of a metric says of its unit, "load time (s)" or a word of the trade
#' @return A list: `name`, `unit` (`NA` where nothing is said), `inside` (it stood in brackets).
#' @noRd
unit_said <- function(heading) {
  if (is.na(heading)) {
    return(list(name = "value", unit = NA_character_, inside = FALSE))
  }
  inside <- trimws(sub(".*[([]([^([]+)[])]\\s*$", "\\1", heading))
  if (inside != trimws(heading) && without_unit(heading) != heading) {
    # "score (easy)" says no unit
    clocked <- grepl("^[hmin: or]*:ss?[hms: or]*$", tolower(inside))
    if (clocked || is_unit(inside) || inside %in% c("K", "C", "F", "x", "n", "1/s", "points")) {
      return(list(name = trimws(without_unit(heading)), unit = inside, inside = TRUE))
    }
    return(list(name = heading, unit = NA_character_, inside = TRUE))
  }
  list(name = heading, unit = stats::na.omit(c(unit_by_heading(heading), unit_of_tail(heading)))[1], inside = FALSE)
}
