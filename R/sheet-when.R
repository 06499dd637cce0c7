# The order in which passes ran, from the times that a table notes of them.

#' @param sheet With roles. @return `NULL` where no time tells the order of all passes; else a number for each pass row.
#' @noRd
order_by_times <- function(sheet) {
  roles <- sheet$roles
  when <- which(roles$role %in% "when")
  if (!length(when) || any(roles$role %in% "order")) {
    return(NULL)
  }
  cells <- sheet$grid$cells[sheet$passes, , drop = FALSE]
  kind <- vapply(when, function(j) c(unique(stats::na.omit(time_of_cell(cells[, j]))), "")[1], "")
  stamp <- when[kind == "stamp"]
  day <- when[kind == "date"]
  clock <- when[kind == "clock"]
  counted <- when[kind == ""]
  text <- if (length(stamp)) {
    cells[, stamp[1]]
  } else if (length(day) && length(clock)) {
    ifelse(is.na(cells[, day[1]]) | is.na(cells[, clock[1]]), NA, paste(cells[, day[1]], cells[, clock[1]]))
  } else if (length(c(day, clock))) {
    cells[, c(day, clock)[1]]
  }
  if (!is.null(text) && anyNA(text)) {
    return(NULL)
  }
  if (!is.null(text)) order_of_times(text, alone = length(clock) && !length(day)) else if (length(counted)) {
    order_of_counts(cells[, counted[1]])
  }
}

# a workbook counts days, other programs seconds since 1970; days without an hour tell nothing within a day
order_of_counts <- function(text) {
  at <- as_count(text)
  if (!anyNA(at) && !anyDuplicated(at)) order(order(at))
}

#' @param alone Whether these are times of a day without a day. @return `NULL` where they do not tell the order.
#' @noRd
order_of_times <- function(text, alone = FALSE) {
  # a day alone, and minutes without seconds, are times too
  text <- trimws(text)
  minutes <- sub("(^|[ T])([0-9]{1,2}:[0-9]{2})( *([AaPp][Mm])?)$", "\\1\\2:00\\3", text)
  text <- ifelse(grepl(":", text), minutes, paste(text, "00:00:00"))
  if (alone) text <- paste("2000-01-01", text)
  forms <- parse_times(text)$forms
  if (!length(forms)) {
    return(NULL)
  }
  at <- lapply(forms, function(form) parse_times(text, form)$seconds)
  # 03/04 may be April or March; ties give no order within them
  orders <- lapply(at, function(seconds) order(order(seconds)))
  if (!all(vapply(orders, identical, NA, orders[[1]])) || anyDuplicated(at[[1]])) {
    return(NULL)
  }
  # past midnight a clock begins again
  if (alone && any(diff(at[[1]]) < -43200)) NULL else orders[[1]]
}
