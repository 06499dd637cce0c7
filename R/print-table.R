# Plain tables and text for a terminal, of 80 columns where it does not say. Nothing is cut: what does not
# fit goes on in the next line of its cell, or stands above its rows.

#' @param table Data frame of text.
#' @param right Columns set flush right.
#' @param whole Columns that are never folded; numbers flush right are not either.
#' @param group Columns that stand above their rows, joined, where the table is too wide with them.
#' @return Lines.
#' @noRd
table_lines <- function(table, right = character(), width = text_width(), whole = character(), group = character()) {
  if (!nrow(table)) {
    return(character())
  }
  table[] <- lapply(table, function(x) plain_text(ifelse(is.na(x), "", as.character(x))))
  room <- column_widths(table)
  group <- intersect(group, names(table))
  if (sum(room + 2) - 2 > width && length(group)) {
    place <- do.call(paste, c(lapply(table[group], function(x) ifelse(nzchar(x), x, NA)), sep = ", "))
    place <- gsub("(, NA)+$", "", place)
    rest <- table[setdiff(names(table), group)]
    rest[[1]] <- paste0("  ", rest[[1]])
    names(rest)[1] <- paste0("  ", names(rest)[1])
    room <- fitting_widths(rest, width, c(right, whole))
    lines <- row_lines(rest, room, right)
    return(unlist(c(row_lines(heading_row(rest), room, right), unlist(lapply(unique(place), function(p) {
      c(fold(p, rest = "  ", width = width), unlist(lines[place == p]))
    })))))
  }
  room <- fitting_widths(table, width, c(right, whole))
  unlist(row_lines(rbind(heading_row(table), table), room, right))
}

heading_row <- function(table) stats::setNames(as.data.frame(as.list(names(table))), names(table))

column_widths <- function(table) vapply(names(table), function(n) max(nchar(c(n, table[[n]]))), 1L)

# the widest column that may be folded gives way, down to ten characters
fitting_widths <- function(table, width, kept) {
  room <- column_widths(table)
  least <- pmin(room, pmax(10L, nchar(names(table))))
  least[names(table) %in% kept] <- room[names(table) %in% kept]
  while (sum(room + 2) - 2 > width && any(room > least)) {
    widest <- which.max(ifelse(room > least, room, 0))
    room[widest] <- room[widest] - 1L
  }
  room
}

#' @return A list, one element a row: its lines.
#' @noRd
row_lines <- function(table, room, right) {
  lapply(seq_len(nrow(table)), function(i) {
    cells <- lapply(seq_along(table), function(j) fold_cell(table[[j]][i], room[[j]]))
    deep <- max(lengths(cells))
    set <- lapply(seq_along(cells), function(j) {
      formatC(c(cells[[j]], rep("", deep - length(cells[[j]]))),
        width = room[[j]], flag = if (names(table)[j] %in% right) "" else "-"
      )
    })
    sub("\\s+$", "", do.call(paste, c(set, sep = "  ")))
  })
}

# broken after a space or a mark where there is one, else where it must be
fold_cell <- function(text, width) {
  lines <- character()
  indent <- sub("^( *).*", "\\1", text)
  while (nchar(text) > width) {
    marks <- gregexpr("[ _,/.:-]", substr(text, 1, width))[[1]]
    marks <- marks[marks > width / 3 & marks > nchar(indent)]
    at <- if (length(marks)) max(marks) else width
    lines <- c(lines, sub(" $", "", substr(text, 1, at)))
    text <- paste0(indent, sub("^ ", "", substr(text, at + 1, nchar(text))))
    if (nchar(indent) >= width) break
  }
  c(lines, text)
}

#' Fold a paragraph, later lines indented
#' @noRd
fold <- function(text, first = "", rest = "  ", width = text_width()) {
  # a number stays with its per cent sign
  held <- gsub("([0-9]) %", "\\1\u00a0%", plain_text(text))
  lines <- unlist(lapply(held, function(t) strwrap(t, width = width, initial = first, prefix = rest)))
  gsub("\u00a0", " ", lines, fixed = TRUE)
}
