# What differs between arms other than the setting, or drifted over the study.

#' @param snapshots Data frame `pass`, `at` (`before`, `after`), `key`, `value`.
#' @param passes Data frame `pass`, `arm`, `order`.
#' @param all `TRUE` for every condition, told or not.
#' @return Data frame `condition`, `seen` (`differs between arms`, `changed`,
#'   `drifted`, `busy`, `steady`), `values`, `words` (whether it is no number), `each` (a list: for each arm the values
#'   that it had).
#' @noRd
find_differences <- function(snapshots, passes, all = FALSE) {
  snapshots <- snapshots[snapshots$pass %in% passes$pass, , drop = FALSE]
  at <- match(snapshots$pass, passes$pass)
  late <- snapshots$at == "after"
  rows <- lapply(split(seq_len(nrow(snapshots)), factor(snapshots$key, unique(snapshots$key))), function(i) {
    key <- snapshots$key[i[1]]
    # how warm and how busy the machine was tells before a pass; what was set, only once it has been
    as_words <- is_text(key, snapshots$value[i])
    i <- i[if (as_words) late[i] | !at[i] %in% at[i[late[i]]] else !late[i]]
    if (length(i)) one_condition(key, snapshots$value[i], passes$arm[at[i]], passes$order[at[i]], as_words)
  })
  out <- stack_rows(unname(rows))
  if (is.null(out)) {
    return(list2DF(list(
      condition = character(), seen = character(), values = character(), words = logical(), each = list()
    )))
  }
  out[all | out$seen != "steady", , drop = FALSE]
}

# 5.1 is a version, not a number that may drift
is_text <- function(key, value) grepl("^(version|variable) ", key) || anyNA(suppressWarnings(as.numeric(value)))

one_condition <- function(key, value, arm, order, as_words) {
  number <- suppressWarnings(as.numeric(value))
  by_arm <- split(value, factor(arm, unique(arm)))
  row <- function(seen, values) {
    list2DF(list(
      condition = key, seen = seen, values = values, words = as_words, each = list(lapply(by_arm, unique))
    ))
  }
  busy <- others_at_work(key, number, order)
  if (length(unique(value)) == 1) {
    return(row(if (busy) "busy" else "steady", value[1]))
  }
  if (as_words) {
    words <- vapply(by_arm, function(v) paste(unique(v), collapse = " / "), "")
    each <- all(vapply(by_arm, function(v) length(unique(v)) == 1, NA))
    return(row(
      if (each && length(by_arm) > 1) "differs between arms" else "changed",
      paste0(names(words), ": ", words, collapse = "; ")
    ))
  }
  middle <- vapply(split(number, factor(arm, unique(arm))), stats::median, 1)
  words <- paste0(names(middle), ": ", show_number(middle), collapse = "; ")
  ends <- stats::fitted(stats::lm(number ~ order))[c(which.min(order), which.max(order))]
  several <- length(number) > 5 && length(middle) > 1 && min(table(arm)) > 1
  between <- several && isTRUE(suppressWarnings(stats::kruskal.test(number, factor(arm))$p.value) < 0.01)
  drift <- length(number) > 5 && isTRUE(suppressWarnings(stats::cor.test(
    number, order,
    method = "spearman"
  )$p.value) < 0.01)
  # a drift of a few parts in a hundred of free memory moves nothing
  drift <- drift && abs(diff(ends)) > 0.02 * max(abs(ends))
  if (drift && !between) words <- paste("from", show_number(ends[[1]]), "to", show_number(ends[[2]]))
  row(if (between) "differs between arms" else if (drift) "drifted" else if (busy) "busy" else "steady", words)
}

# A third of a processor at work before the passes, while we only wait, is somebody else's. The load of the
# last minute has our own passes in it, but for the first.
others_at_work <- function(key, number, order) {
  switch(key,
    `processors busy` = isTRUE(stats::median(number) >= 1 / 3),
    `load 1 min` = isTRUE(number[which.min(order)] >= 0.5),
    FALSE
  )
}
