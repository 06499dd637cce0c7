# Times as logs write them. Only the text is looked at; which clock it belongs to
# is the tester's to say.

time_forms <- c(
  "%Y-%m-%d %H:%M:%OS", "%Y-%m-%dT%H:%M:%OS", "%Y/%m/%d %H:%M:%OS", "%d.%m.%Y %H:%M:%OS", "%d.%m.%y %H:%M:%OS",
  "%d/%m/%Y %H:%M:%OS", "%m/%d/%Y %H:%M:%OS", "%d-%m-%Y %H:%M:%OS", "%d %b %Y %H:%M:%OS", "%Y%m%d %H:%M:%OS",
  "%Y-%m-%d %I:%M:%OS %p", "%m/%d/%Y %I:%M:%OS %p", "%d/%m/%Y %I:%M:%OS %p"
)

#' Times of a column as seconds
#'
#' @param text Character vector.
#' @param form A form of [strptime()], or `NULL` to find it.
#' @param zone Time zone of the log's clock.
#' @param date Day (`YYYY-MM-DD`) of a log that writes only the time of day.
#' @return A list: `seconds` (since 1970 where `absolute`, else since the log's
#'   own zero), `absolute`, `bad` (indices that are no time), `forms` (all that fit:
#'   more than one is for the tester to settle), `form`.
#' @noRd
parse_times <- function(text, form = NULL, zone = "UTC", date = NULL) {
  text <- trimws(sub(",([0-9]+)$", ".\\1", text))
  given <- !is.na(text) & nzchar(text)
  number <- suppressWarnings(as.numeric(text))
  if (is.null(form) && all(is.finite(number[given]))) {
    return(numeric_times(number, given))
  }
  if (is.null(form) && all(grepl(clock_alone, text[given]))) {
    return(times_of_day(text, given, date, zone))
  }
  # the zone may stand behind the time: Z, +02:00
  suffix <- "(Z|[+-][0-9]{2}:?[0-9]{2})$"
  zoned <- grepl(suffix, text) & grepl("[0-9]T[0-9]|:[0-9]{2}([.][0-9]+)? ?(Z|[+-])", text)
  shift <- zone_seconds(ifelse(zoned, sub(paste0("^.*?", suffix), "\\1", text, perl = TRUE), NA))
  # no time is that long, and what is makes R stop
  bare <- substr(ifelse(zoned, trimws(sub(suffix, "", text)), text), 1, 200)
  # a form without half days takes no notice of them
  halved <- all(grepl(half_day, bare[given]))
  forms <- empty_to(form, grep("%p", time_forms, value = TRUE, fixed = TRUE, invert = !halved))
  fits <- Filter(function(f) all(!is.na(time_by_form(bare[given], f))), forms)
  # a form of two-digit years also takes the first half of a four-digit one
  if (any(grepl("%Y", fits))) fits <- grep("%Y", fits, value = TRUE)
  if (!length(fits)) {
    best <- forms[which.max(vapply(forms, function(f) sum(!is.na(time_by_form(bare[given], f))), 1))]
    return(list(bad = which(given & is.na(time_by_form(bare, best))), forms = character()))
  }
  at <- time_by_form(bare, fits[1], if (any(zoned)) "UTC" else zone)
  list(seconds = at - ifelse(zoned, shift, 0), absolute = TRUE, bad = integer(), forms = fits, form = fits[1])
}

clock_alone <- "^[0-9]{1,3}:[0-9]{2}(:[0-9]{2})?([.,][0-9]+)?( ?[AaPp][.]?[Mm][.]?)?$"
half_day <- "\\s*[AaPp][.]?[Mm][.]?$"

#' Seconds since 1970, `NA` where the form does not fit; half days are read in any language of the machine
#' @noRd
time_by_form <- function(text, form, zone = "UTC") {
  if (!grepl("%p", form, fixed = TRUE)) {
    return(as.numeric(as.POSIXct(strptime(text, form, tz = zone))))
  }
  at <- strptime(sub(half_day, "", text), sub("\\s*%p", "", sub("%I", "%H", form, fixed = TRUE)), tz = zone)
  at$hour <- hour_of_day(at$hour, text)
  as.numeric(as.POSIXct(at))
}

# 12 comes before 1 in either half of a day
hour_of_day <- function(hour, text) {
  ifelse(!grepl(half_day, text) | hour < 1 | hour > 12, NA, hour %% 12 + 12 * grepl("p[.]?m[.]?$", tolower(text)))
}

#' What kind of times a column may hold, by its cells
#' @return `stamp` (date and time), `clock`, `date`, `rising` (numbers), or empty.
#' @noRd
time_kind <- function(text) {
  # most columns are plain numbers
  number <- suppressWarnings(as.numeric(text))
  if (length(number) && all(is.finite(number))) {
    return(if (all(diff(number) > 0)) "rising" else "")
  }
  text <- text[!is.na(text) & has_text(text)]
  if (!length(text)) {
    return("")
  }
  number <- suppressWarnings(as.numeric(sub(",", ".", text, fixed = TRUE)))
  if (all(is.finite(number))) {
    return(if (all(diff(number) > 0)) "rising" else "")
  }
  text <- trimws(text)
  if (all(grepl(clock_alone, text))) {
    return("clock")
  }
  # a repeated heading or a broken line must not hide it
  usual <- function(ok) mean(ok) > 0.8
  if (usual(grepl("[0-9]:[0-9]{2}", text)) && usual(grepl("[0-9]{2}[-./ ][0-9A-Za-z]|T[0-9]", text))) {
    return("stamp")
  }
  if (usual(grepl("^([0-9]{4}[-/.][0-9]{1,2}[-/.][0-9]{1,2}|[0-9]{1,2}[-/.][0-9]{1,2}[-/.][0-9]{2,4})$", text))) {
    return("date")
  }
  ""
}

zone_seconds <- function(suffix) {
  digits <- gsub("[^0-9]", "", suffix)
  size <- 3600 * as.numeric(substr(digits, 1, 2)) + 60 * as.numeric(substr(digits, 3, 4))
  ifelse(is.na(suffix) | suffix == "Z", 0, ifelse(startsWith(suffix, "-"), -1, 1) * size)
}

# seconds since a start, or since 1970 in s, ms, us or ns by their size
numeric_times <- function(number, given) {
  middle <- stats::median(number[given])
  unit <- c(1, 1e3, 1e6, 1e9)
  epoch <- unit[middle / unit > 1e9 & middle / unit < 4e9]
  list(
    seconds = if (length(epoch)) number / epoch[1] else number, absolute = length(epoch) > 0, bad = integer(),
    forms = "number", form = if (length(epoch)) "since 1970" else "seconds since the start"
  )
}

times_of_day <- function(text, given, date, zone) {
  halved <- any(grepl(half_day, text[given]))
  parts <- strsplit(sub(half_day, "", text), ":", fixed = TRUE)
  three <- all(lengths(parts[given]) == 3)
  # of two parts the first is minutes, but for a half of a day
  size <- if (three) c(3600, 60, 1) else if (halved) c(3600, 60) else c(60, 1)
  seconds <- vapply(parts, function(p) sum(suppressWarnings(as.numeric(p)) * size), 1)
  if (halved) seconds <- seconds %% 3600 + 3600 * hour_of_day(seconds %/% 3600, text)
  # some with half a day and some without, or a 13th hour of one
  bad <- which(given & is.na(seconds))
  if (length(bad)) {
    return(list(bad = bad, forms = character()))
  }
  # past midnight the day is the next one
  step <- diff(seconds)
  seconds <- seconds + 86400 * c(0, cumsum(!is.na(step) & step < -43200))
  if (is.null(date) || !(three || halved)) {
    return(list(
      seconds = seconds, absolute = FALSE, bad = integer(), forms = "clock", form = "time of day or elapsed"
    ))
  }
  day <- as.numeric(as.POSIXct(paste(date, "00:00:00"), tz = zone))
  list(seconds = day + seconds, absolute = TRUE, bad = integer(), forms = "clock", form = "time of day")
}
