# The account of a table: what became of each cell.

#' @param sheet What `read_grid()` worked on. @param rows The readings, `NULL` where something is asked.
#' @return A list of class `honestmargin_account`: `fates` (matrix of the shape of the grid: `value`, `key`, `heading`,
#'   `left out`, `asked`, `NA` for an empty cell), `columns` (data frame), `left` (data frame `what`, `why`), `source`.
#' @noRd
account_of <- function(sheet, rows) {
  cells <- sheet$grid$cells
  roles <- sheet$roles
  fates <- matrix(NA_character_, nrow(cells), ncol(cells))
  head <- sheet$head
  fates[c(head$row, head$top, head$units, sheet$again), ] <- "heading"
  fates[c(head$above, sheet$rules, sheet$lone), ] <- "left out"
  fates[sheet$titles, ] <- "heading"
  column <- c(
    value = "value", measured = "value", note = "left out", `pass note` = "key", constant = "left out",
    empty = "left out", sum = "left out"
  )[roles$role]
  column[is.na(column)] <- ifelse(is.na(roles$role[is.na(column)]), "asked", "key")
  for (j in seq_len(ncol(cells))) fates[sheet$passes, j] <- column[[j]]
  fates[setdiff(sheet$body, sheet$passes), ] <- "left out"
  if (is.null(rows)) {
    at <- unlist(lapply(sheet$questions, `[[`, "at"))
    fates[intersect(at, sheet$body), ] <- "asked"
  }
  # what gave neither a number nor an end is none
  silent <- if (!is.null(rows)) {
    rows[!is.na(rows$.column) & is.na(rows$value) &
      !is_end(cells[cbind(rows$.row, pmax(rows$.column, 1))]), ]
  }
  if (NROW(silent)) fates[cbind(silent$.row, silent$.column)] <- "left out"
  fates[is.na(cells)] <- NA
  structure(
    list(
      fates = fates, columns = roles[c("name", "role", "by")], left = left_out_of(sheet),
      source = if (is.null(sheet$grid$called)) basename(sheet$grid$source) else sheet$grid$called
    ),
    class = "honestmargin_account"
  )
}

left_out_of <- function(sheet) {
  grid <- sheet$grid
  roles <- sheet$roles
  text <- function(rows) {
    vapply(rows, function(r) substr(paste(stats::na.omit(grid$cells[r, ]), collapse = " "), 1, 60), "")
  }
  notes <- setdiff(c(sheet$head$above, sheet$lone), sheet$titles)
  out <- rbind(
    data.frame(
      what = paste(rep(grid$row, length(notes)), grid$line[notes]),
      why = paste0("\"", text(notes), "\"")[seq_along(notes)]
    ),
    if (NROW(sheet$left_out)) {
      data.frame(what = paste(grid$row, grid$line[sheet$left_out$row]), why = sheet$left_out$why)
    }
  )
  dropped <- which(roles$role %in% c("note", "constant", "sum"))
  named <- ifelse(is.na(roles$name[dropped]), paste("column", dropped), paste0("column '", roles$name[dropped], "'"))
  same <- vapply(dropped, function(j) substr(grid$cells[sheet$passes[1], j], 1, 30), "")
  why <- ifelse(roles$role[dropped] == "constant", paste0(same, " in all rows"),
    ifelse(roles$role[dropped] == "sum", "worked out from those beside", "a note")
  )
  rbind(out, data.frame(what = named, why = why)[seq_along(dropped), , drop = FALSE])
}

#' Accounts of several tables that were read as one
#' @noRd
join_accounts <- function(accounts) {
  structure(list(parts = accounts), class = "honestmargin_account")
}

findings_of_sheet <- function(sheet, rows) {
  roles <- sheet$roles
  times <- roles$name[roles$role %in% "when"]
  turn <- sheet$turn
  bind_findings(
    if (length(turn)) new_finding("note", "order_by_column", columns = times),
    if (length(times) && !length(turn) && !any(roles$role %in% "order")) {
      new_finding("note", "times_no_order", columns = times)
    },
    notes_of_ends(sheet, rows), if (!is.null(rows)) lines_without_number(rows, sheet$grid$row)
  )
}

#' Rows of an arm that hold neither a number nor an end
#' @noRd
lines_without_number <- function(rows, row) {
  ended <- !rows$outcome %in% c(NA, "ok")
  lines <- setdiff(rows$.line, rows$.line[!is.na(rows$value) | ended])
  if (length(lines) && any(!is.na(rows$value))) {
    new_finding("note", "rows_without_number", n = count_of(length(lines), "row"), row = row, lines = lines)
  }
}

# a note that speaks of an end beside a number that counts
notes_of_ends <- function(sheet, rows) {
  if (!length(sheet$layout)) {
    return(NULL)
  }
  if (holds_several_arms(sheet)) {
    return(do.call(bind_findings, lapply(which(sheet$roles$role %in% c("note", "pass", "status")), function(j) {
      text <- sheet$grid$cells[sheet$passes, j]
      as <- end_in_text(text)
      if (any(as %in% outcomes)) {
        new_finding("warning", "whose_end",
          n = count_of(sum(as %in% outcomes), "row"), column = sheet$roles$name[j],
          words = unique(text[as %in% outcomes])
        )
      }
    })))
  }
  notes <- which(sheet$roles$role %in% "note")
  counted <- rows$.row[!is.na(rows$value) & !rows$role %in% "excluded"]
  found <- lapply(notes, function(j) {
    text <- sheet$grid$cells[sheet$passes, j]
    says <- !is.na(text) & speaks_of_end(text) & sheet$passes %in% counted
    if (any(says)) new_finding("warning", "ends_in_notes", column = sheet$roles$name[j], words = unique(text[says]))
  })
  do.call(bind_findings, found)
}
