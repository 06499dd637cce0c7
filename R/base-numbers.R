# Numbers as people type them: m:ss, thousands separators, decimal commas.

# a number that begins with 0 has no thousands
grouped_point <- "^[-+]?[1-9][0-9]{0,2}([, '\u00a0\u202f][0-9]{3})+([.][0-9]+)?$"
grouped_comma <- "^[-+]?[1-9][0-9]{0,2}([. '\u00a0\u202f][0-9]{3})+(,[0-9]+)?$"
plain_point <- "^[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][-+]?[0-9]+)?$"
plain_comma <- "^[-+]?([0-9]+,[0-9]*|,[0-9]+|[0-9]+)([eE][-+]?[0-9]+)?$"
clock <- "^([0-9]+:)?[0-9]+:[0-5]?[0-9]([.,][0-9]+)?$"

# what stands where there is no number
words_of_nothing <- c(
  "", "NA", "N/A", "n/a", "na", "n.a.", "#N/A", "NULL", "null", "None", "none", "k.A.", "-", "--", "\u2013", "\u2014"
)

# "0m12.345s", "1 h 2 min 5 s"
spelled_clock <- "^(?:([0-9]+) ?h(?:ours?)? ?)?([0-9]+) ?m(?:in)?[.]? ?([0-5]?[0-9](?:[.,][0-9]+)?) ?s(?:ec)?[.]?$"
as_clock <- function(text) {
  spelled <- if (any(grepl("m", text, fixed = TRUE))) grep(spelled_clock, text, perl = TRUE)
  text[spelled] <- gsub(
    ":([0-9])([.,:]|$)", ":0\\1\\2",
    sub("^:", "", sub(spelled_clock, "\\1:\\2:\\3", text[spelled], perl = TRUE))
  )
  text
}

clock_seconds <- function(text) {
  vapply(strsplit(sub(",", ".", text, fixed = TRUE), ":", fixed = TRUE), function(parts) {
    sum(as.numeric(parts) * 60^(rev(seq_along(parts)) - 1))
  }, numeric(1))
}

as_point_decimal <- function(text) as.numeric(gsub("[, '\u00a0\u202f]", "", text))
as_comma_decimal <- function(text) {
  as.numeric(sub(",", ".", gsub("[. '\u00a0\u202f]", "", text), fixed = TRUE))
}

# "61.2", "0.987" and "1,234.5" can only have decimal points; "61,2" and "1.234,5" only commas
only_point <- "^[-+]?([0-9]+[.]([0-9]{1,2}|[0-9]{4,})|0[.][0-9]+|[0-9,' \u00a0\u202f]+,[0-9]{3}[.][0-9]+)$"
only_comma <- paste0(
  "^[-+]?([0-9]+,([0-9]{1,2}|[0-9]{4,})|0,[0-9]+|",
  "[0-9. \u00a0\u202f]+[.][0-9]{3},[0-9]+|[0-9]{1,3}([.][0-9]{3}){2,})$"
)

#' Numbers as people type them
#'
#' One convention is chosen for the whole column, because one cell alone
#' ("1,234") often has two readings. Cells that can be read in one way only decide.
#' @param text Character vector.
#' @param decimal `"point"` or `"comma"`: which is tried first when a column can be read both ways; `"unsure"`:
#'   a comma would be a decimal comma, a point a decimal point.
#' @return A list: `value` (numeric, `NA` where empty), `bad` (indices that are
#'   not numbers), `clock` (logical: typed as m:ss or 1m5s, value in seconds),
#'   `grouped` (logical: thousands separators were taken out) and `guessed` (logical: it might be read otherwise).
#' @noRd
parse_typed_numbers <- function(text, decimal = "point") {
  text <- as_clock(trimws(text))
  empty <- is.na(text) | text %in% words_of_nothing
  is_clock <- !empty & grepl(clock, text)
  open <- !empty & !is_clock
  point_ok <- grepl(plain_point, text) | grepl(grouped_point, text)
  comma_ok <- grepl(plain_comma, text) | grepl(grouped_comma, text)
  sure <- c(point = sum(open & grepl(only_point, text)), comma = sum(open & grepl(only_comma, text)))
  # "1.234" where cells are parted by semicolons, and nothing else in the table tells
  torn <- open & grepl("^[-+]?[1-9][0-9]{0,2}[.][0-9]{3}$", text) & decimal == "unsure" & !any(sure > 0)
  commas <- sure[["comma"]] > sure[["point"]] || (all(sure == 0) && decimal %in% c("comma", "unsure") && !any(torn))
  first <- if (commas) "comma" else "point"
  order <- c(first, setdiff(c("point", "comma"), first))
  fits <- c(point = sum(open & point_ok), comma = sum(open & comma_ok))[order]
  use <- names(fits)[which.max(fits)]
  ok <- open & (if (use == "point") point_ok else comma_ok)
  value <- rep(NA_real_, length(text))
  value[ok] <- if (use == "point") as_point_decimal(text[ok]) else as_comma_decimal(text[ok])
  value[is_clock] <- clock_seconds(text[is_clock])
  pattern <- if (use == "point") grouped_point else grouped_comma
  list(
    value = value, bad = which(open & (!ok | is.infinite(value))), clock = is_clock,
    grouped = ok & grepl(pattern, text), guessed = ok & torn & use == "point"
  )
}

#' A time as it is stored, in seconds since 1970
#' @noRd
stamp_seconds <- function(text) as.numeric(as.POSIXct(substr(text, 1, 40), format = "%Y-%m-%dT%H:%M:%OS", tz = "UTC"))

#' Medians of columns, many at once
#' @noRd
column_medians <- function(m) {
  n <- nrow(m)
  if (anyNA(m) || n < 1) {
    return(apply(m, 2, stats::median))
  }
  sorted <- matrix(m[order(col(m), m)], n)
  (sorted[(n + 1) %/% 2, ] + sorted[n %/% 2 + 1, ]) / 2
}

# the decimal place that all of these numbers end at, 0 where they have more than six
decimal_step <- function(value) {
  slack <- 1e-9 * pmax(1, abs(value))
  if (abs(value[1] - round(value[1], 6)) > slack[1]) {
    return(0)
  }
  for (places in 0:6) {
    if (all(abs(value - round(value, places)) <= slack)) {
      return(10^-places)
    }
  }
  0
}
