# What differs between two plans, key by key.

#' @param from,to Plans.
#' @return Data frame: `key` (`metrics/score/worth`: entries of a list by their id or value), `from`, `to` (text, empty
#'   where there is none).
#' @noRd
plan_changes <- function(from, to) {
  a <- flat_plan(from)
  b <- flat_plan(to)
  keys <- union(names(a), names(b))
  of <- function(flat) ifelse(keys %in% names(flat), flat[keys], "")
  out <- data.frame(key = keys, from = unname(of(a)), to = unname(of(b)))
  out[out$from != out$to, , drop = FALSE]
}

flat_plan <- function(plan, path = "") {
  if (!is.list(plan)) {
    return(if (length(plan)) stats::setNames(paste(format(plan, trim = TRUE), collapse = ", "), path))
  }
  names <- names(plan)
  if (is.null(names)) names <- vapply(seq_along(plan), function(i) entry_name(plan[[i]], i), "")
  unlist(lapply(seq_along(plan), function(i) flat_plan(plan[[i]], join_path(path, names[i]))))
}

entry_name <- function(entry, i) {
  own <- unlist(entry[c("id", "value", "metric", "name", "series")])
  if (length(own)) as.character(own[1]) else as.character(i)
}

# keys that a verdict stands on; the schedule stands as it was sealed
judged_keys <- "^(setting/baseline|confidence|metrics/.*/(worth|primary|better|scale))$"
scheduled_keys <- paste0(
  "^(arms/.*/value|blocks|passes_per_block|warm_up|order|seed|context/levels|search/.*|",
  "workloads/.*/(id|anchor))$"
)
