# The order in which passes ran, from the times that a table notes of them.

#' Take times out of a table, and the order from them
#' @param cells Rows that are passes. @return A list: `cells`, with a column `order` where there was none, `findings`.
#' @noRd
order_by_times <- function(cells) {
  when <- headed_as(names(cells), "when")
  # a day with its hour can be nothing else, whatever the column is called
  others <- setdiff(names(cells), c(reading_columns, ".line", when))
  when <- c(when, others[vapply(cells[others], function(v) time_kind(utils::head(v, 50)) == "stamp", NA)])
  kinds <- vapply(cells[when], time_kind, "")
  day <- when[kinds == "date"][1]
  clock <- when[kinds == "clock"][1]
  # a clock alone may be how long it took, unless it stands beside a day
  used <- if ("stamp" %in% kinds) when[kinds == "stamp"][1] else if (!is.na(day)) stats::na.omit(c(day, clock))
  # a workbook counts days, other programs seconds since 1970
  counted <- Filter(function(name) is_counted_time(cells[[name]], name), when)
  if (!length(used)) used <- utils::head(counted, 1)
  if (!length(used)) {
    return(list(cells = cells))
  }
  text <- if (length(used) == 2) paste(cells[[used[1]]], cells[[used[2]]]) else cells[[used]]
  missing <- rowSums(is.na(cells[used])) > 0
  order <- if (any(missing)) NULL else if (used[1] %in% counted) order_of_counts(text) else order_of_times(text)
  cells <- cells[!names(cells) %in% used]
  if (is.null(order) || "order" %in% names(cells)) {
    return(list(cells = cells, findings = new_finding("note", "times_no_order", columns = used)))
  }
  cells$order <- order
  list(cells = cells, findings = new_finding("note", "order_by_column", columns = used))
}

# under "time" a number is how long it took
is_counted_time <- function(cells, name) {
  number <- suppressWarnings(as.numeric(cells))
  !anyNA(number) && all(number > 20000) && !heading_key(name) %in% c("time", "zeit", "time of day", "uhrzeit")
}

order_of_counts <- function(text) {
  at <- as.numeric(text)
  # days without an hour
  if (!(anyDuplicated(at) && all(at == floor(at)))) as.character(order(order(at)))
}

#' @return Text, as cells hold it; `NULL` where the times do not tell the order.
#' @noRd
order_of_times <- function(text) {
  # a day alone, and minutes without seconds, are times too
  text <- trimws(text)
  minutes <- sub("([ T][0-9]{1,2}:[0-9]{2})( *([AaPp][Mm])?)$", "\\1:00\\2", text)
  text <- ifelse(grepl(":", text), minutes, paste(text, "00:00:00"))
  forms <- parse_times(text)$forms
  if (!length(forms)) {
    return(NULL)
  }
  orders <- lapply(forms, function(form) order(order(parse_times(text, form)$seconds)))
  # 03/04 may be April or March
  sure <- all(vapply(orders, identical, NA, orders[[1]]))
  at <- parse_times(text, forms[1])$seconds
  # several passes of one day, by day alone
  if (sure && !(anyDuplicated(at) && all(at %% 86400 == 0))) as.character(orders[[1]])
}
