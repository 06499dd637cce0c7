# The grid of answers at the head of the report: read in ten seconds.

#' @param firm Answer of the question `firm`, or `NULL`: what another choice would change is marked.
#' @noRd
report_grid <- function(verdicts, labels, firm = NULL) {
  grid <- answer_grid(verdicts, labels)
  n <- length(grid$arms)
  # a column for each of many arms would be too narrow to read
  if (is.null(grid) || n > 8) {
    return(NULL)
  }
  escape <- function(text) htmltools::htmlEscape(text)
  scales <- switch(grid$shared,
    all = " All on one scale.", percent = " Percentages on one scale.", none = " Each metric on a scale of its own."
  )
  rows <- if (NROW(firm)) plain_table(firm)[!firm$agrees, , drop = FALSE]
  loose <- if (NROW(rows)) paste(cell_key(rows), rows$arm)
  head <- paste0("<th scope=\"col\">", escape(arm_names(grid$arms, labels)), "</th>", collapse = "")
  body <- vapply(grid$rows, function(row) {
    cells <- vapply(row$cells, grid_cell, "", row = row, loose = loose)
    paste0(
      "<tr><th class=\"what\" scope=\"row\">", escape(row$title), " <span>", escape(row$about), "</span></th>",
      paste(cells, collapse = ""), "</tr>"
    )
  }, "")
  htmltools::HTML(paste0(
    "<div class=\"scroll\"><table class=\"grid\" style=\"--arms: ", n, "\"><caption>Each arm against ",
    escape(baseline_words(verdicts)),
    ". Line: interval of the change. Shaded: within the worth.", scales,
    if (length(loose)) " \u25ca: another verdict under some other choice, see \u201cHow firm it is\u201d.",
    "</caption><thead><tr><th class=\"what\"></th>", head,
    "</tr></thead><tbody>",
    paste(body, collapse = "\n"), "</tbody></table></div>"
  ))
}

grid_cell <- function(cell, row, loose = NULL) {
  if (is.null(cell)) {
    return("<td></td>")
  }
  family <- verdict_family(cell$verdict)
  known <- !cell$verdict %in% c("blocked", "no basis") && is.finite(cell$lower)
  change <- if (cell$verdict == "blocked") "" else shown_change(cell)
  paste0(
    "<td class=\"", family, "\">", if (known) interval_picture(cell, row),
    "<div class=\"change\">", htmltools::htmlEscape(change), "</div>",
    if (known) paste0("<div class=\"between\">", htmltools::htmlEscape(shown_interval(cell)), "</div>"),
    "<div class=\"verdict\">", htmltools::htmlEscape(cell$verdict),
    if (paste(cell_key(cell), cell$arm) %in% loose) {
      " <span title=\"another verdict under some other choice\">\u25ca</span>"
    },
    "</div></td>"
  )
}

# the interval on the scale of its row; what reaches beyond it ends in an arrow
interval_picture <- function(cell, row) {
  place <- function(v) round(60 + 58 * pmax(-1, pmin(1, v / row$limit)), 1)
  at <- function(v) show_exact(place(v))
  beyond <- c(cell$lower < -row$limit, cell$upper > row$limit)
  worth <- if (!is.na(row$worth) && row$worth > 0) {
    ends <- place(c(-1, 1) * row$worth)
    sprintf("<rect class=\"worth\" x=\"%s\" y=\"1\" width=\"%s\" height=\"20\"/>",
      show_exact(ends[1]), show_exact(ends[2] - ends[1])
    )
  }
  said <- paste0(shown_change(cell), " (", shown_interval(cell), "), ", cell$verdict)
  paste0(
    "<svg viewBox=\"0 0 120 22\" role=\"img\" aria-label=\"", htmltools::htmlEscape(said, attribute = TRUE), "\">",
    worth,
    "<line class=\"zero\" x1=\"60\" x2=\"60\" y1=\"1\" y2=\"21\"/>",
    sprintf("<line class=\"range\" x1=\"%s\" x2=\"%s\" y1=\"11\" y2=\"11\"/>", at(cell$lower), at(cell$upper)),
    if (beyond[1]) "<path class=\"range\" d=\"M 7 7 L 2 11 L 7 15\"/>",
    if (beyond[2]) "<path class=\"range\" d=\"M 113 7 L 118 11 L 113 15\"/>",
    sprintf("<circle class=\"mean\" cx=\"%s\" cy=\"11\" r=\"3.6\"/>", at(cell$change)), "</svg>"
  )
}
