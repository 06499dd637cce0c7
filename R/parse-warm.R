# Warm-ups by what they are called: the name of a log, the label of a pass, a heading, a note.

# what a name says besides: neither that it is a warm-up, nor which pass it is
besides_warm_up <- function(text) {
  rest <- gsub("[^[:alpha:]]+", " ", sub(warm_words, " ", tolower(text)))
  counting <- setdiff(c(words_of_pass, words_before_number), c("", "#"))
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

warm_ups_left <- function(what, named) {
  new_finding("note", "warm_ups_left_out", what = count_of(length(named), what), named = named)
}
