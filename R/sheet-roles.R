# What each column of a table is: declared, by its heading, or by its cells, in that order.

#' @param said What the tester said: `columns` (named by role), `baseline`, `arm`, `answer`.
#' @return A data frame, one row for each column: `name`, `role` (`NA`: not settled yet), `by`, `type`.
#' @noRd
roles_of_columns <- function(grid, head, kinds, body, said) {
  n <- ncol(grid$cells)
  by_heading <- roles_of_headings(empty_na(head$names))
  types <- vapply(seq_len(n), function(j) column_type(kinds[body, j]), "")
  out <- data.frame(
    column = seq_len(n), name = head$names, label = head$labels, role = by_heading$role,
    by = ifelse(is.na(by_heading$role), NA, "heading"), type = types, beside = by_heading$beside
  )
  out$role[types == "empty"] <- "empty"
  # a column under its own name is not taken over by a word that means the same
  own <- tolower(empty_na(out$name)) %in% column_roles
  taken <- !own & out$by %in% "heading" & out$role %in% out$role[own] & out$role %in% single_roles
  out[taken, c("role", "by")] <- NA
  # "test" above numbers counts passes
  out[out$beside & types == "number" & out$role %in% "workload", c("role", "by")] <- NA
  out <- declare_roles(out, said$columns)
  named_by_tester <- is.na(out$role) & !is.na(out$name) & out$name %in% c(names(said$better), said$primary)
  out$role[named_by_tester] <- "measured"
  out$by[named_by_tester] <- "declared"
  out <- settle_marks_of_passes(out, grid$cells[body, , drop = FALSE])
  out <- settle_times(out, grid$cells[body, , drop = FALSE], head)
  settle_by_cells(out)
}

#' What the cells of a column are: `number`, `word`, `time`, `empty`, or `mixed`
#' @noRd
column_type <- function(kinds) {
  told <- kinds[!kinds %in% c("empty", "nothing", "end")]
  if (!length(told)) {
    return(if (all(kinds == "empty")) "empty" else if (any(kinds == "end")) "end" else "empty")
  }
  alike <- intersect(unique(told), c("number", "time", "word"))
  if (length(unique(told)) == 1 && length(alike)) alike else "mixed"
}

declare_roles <- function(out, columns) {
  for (i in seq_along(columns)) {
    at <- which(tolower(out$name) == tolower(columns[[i]]))
    if (!length(at)) {
      abort_input(
        paste0("no column '", columns[[i]], "'"), attr(columns, "source"),
        did_you_mean(columns[[i]], out$name[!is.na(out$name)])
      )
    }
    if (!names(columns)[i] %in% column_roles) {
      abort_usage(
        paste0("--columns: '", names(columns)[i], "' is no role of a column"),
        todo = did_you_mean(names(columns)[i], column_roles)
      )
    }
    # what its heading said of another column gives way
    same <- names(columns)[i] %in% single_roles & out$role %in% names(columns)[i] & out$by %in% "heading"
    out$role[same] <- NA
    out$by[same] <- NA
    out$role[at] <- names(columns)[i]
    out$by[at] <- "declared"
    out$beside[at] <- FALSE
  }
  out
}

# a status holds how passes ended, a mark of validity yes and no; under such a heading anything else is not settled
# by it
settle_marks_of_passes <- function(out, cells) {
  holds <- function(j, words) all(tolower(cells[, j]) %in% c(NA, words))
  for (j in which(out$by %in% "heading" & out$role %in% c("status", "valid", "excluded", "warm_up"))) {
    v <- cells[, j]
    fits <- if (out$role[j] == "status") {
      all(is.na(v) | is_end(v) | end_word(v) %in% words_fine)
    } else {
      holds(j, c(words_yes, words_no)) && any(!is.na(v))
    }
    if (!fits) out[j, c("role", "by")] <- NA
  }
  out
}

# roles that only one column can have
single_roles <- setdiff(column_roles, c("measured", "note", "when", "valid", "excluded", "status", "attribute"))

# "when" by its heading only if its cells look so; 16.2 under "Time" was measured
settle_times <- function(out, cells, head) {
  for (j in which(out$role %in% "when" & out$by %in% "heading" & out$type != "time")) {
    counted <- out$type[j] == "number" && all(as_count(cells[, j]) > 20000, na.rm = TRUE) &&
      !heading_key(out$name[j]) %in% c("time", "zeit")
    if (!counted) out[j, c("role", "by")] <- list(if (out$type[j] == "number") "measured" else NA, "heading")
  }
  # minutes and seconds, some with a fraction, are how long it took
  spans <- vapply(out$column, function(j) {
    form <- time_of_cell(cells[, j])
    any(form %in% "clock") && all(form %in% c("clock", NA)) && any(grepl(clock_shape, cells[, j]) & is.na(form))
  }, NA)
  out$type[spans & out$type %in% c("mixed", "time", "number")] <- "number"
  out[spans & (is.na(out$role) | out$role %in% "when"), c("role")] <- "measured"
  for (j in which(out$type == "time" & is.na(out$role))) {
    # m:ss under a heading that says how long; a date or an hour of a day says when
    form <- time_of_cell(cells[, j])
    if (all(form %in% c("clock", NA))) {
      if (names_a_duration(out$name[j])) out[j, c("role", "by", "type")] <- list("measured", "heading", "number")
    } else {
      out[j, c("role", "by")] <- list("when", "values")
    }
  }
  durations <- out$role %in% "when" & out$type == "time" & names_a_duration(out$name)
  out[durations & !grepl("^(time|zeit)$", tolower(empty_na(out$name))), "role"] <- "measured"
  out
}

names_a_duration <- function(name) {
  has_word(
    empty_na(name),
    "load|loading|build|render|encode|compile|boot|lap|frame|duration|dauer|m:ss|min:s|mm:ss|ladezeit|rundenzeit"
  ) |
    grepl("(zeit|dauer)$", tolower(empty_na(name))) & nchar(empty_na(name)) > 4 &
      !grepl("uhrzeit|startzeit", tolower(name))
}

as_count <- function(text) suppressWarnings(as.numeric(text))

# a heading that wants numbers and has words, or the other way round, does not settle its column
settle_by_cells <- function(out) {
  heading <- out$by %in% "heading"
  lost <- heading & (out$role %in% "measured" & !out$type %in% c("number", "mixed", "end") |
    out$role %in% "note" & out$type == "number" | out$role %in% c("value", "order", "seconds") & out$type == "word")
  out$role[lost] <- NA
  out$by[lost] <- NA
  out
}
