# Nearest known word: the same help for a plan key, an option, an arm or a metric.

nearest <- function(word, known) {
  if (!length(known) || is.na(word) || nchar(word) > 200) {
    return(NULL)
  }
  distance <- utils::adist(word, known, ignore.case = TRUE)[1, ]
  best <- which.min(distance)
  if (distance[best] <= max(2, nchar(word) %/% 3)) known[best]
}

did_you_mean <- function(word, known) {
  near <- nearest(word, known)
  if (is.null(near)) {
    return(paste0("known here: ", some_of(known, 12)))
  }
  paste0("did you mean '", near, "'?")
}

some_of <- function(items, most = 5) {
  items <- show_exact(items)
  if (length(items) == 1) {
    return(items)
  }
  if (length(items) <= most) {
    return(paste(items, collapse = ", "))
  }
  paste0(paste(items[seq_len(most)], collapse = ", "), " and ", length(items) - most, " more")
}

count_of <- function(n, one, many = paste0(one, "s")) {
  paste(show_exact(n), if (n == 1) one else many)
}

# as it has to be typed in a shell
as_typed <- function(word) if (grepl("[^A-Za-z0-9._/=,%+-]", word)) shQuote(word) else word

# words behind the command's name, as one line to paste
to_paste <- function(words) paste(c("honestmargin", vapply(words, as_typed, "")), collapse = " ")

# "pass" is the one unit that takes more than an s
plural_of <- function(unit) switch(unit, pass = "passes", study = "studies", paste0(unit, "s"))

# place of a key in a nested list: setting/baseline, arms/2/value
join_path <- function(parent, key) if (nzchar(parent)) paste0(parent, "/", key) else as.character(key)

# far quicker than trimming first
has_text <- function(x) grepl("[^ \t\r\n]", x)

empty_na <- function(x) ifelse(is.na(x), "", x)

# a regular expression that can be used
is_pattern <- function(text) {
  tryCatch(suppressWarnings(is.list(regexec(text, "", perl = TRUE))), error = function(e) FALSE)
}
