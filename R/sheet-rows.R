# The rows of a table: passes, titles, headings that come again, rules, notes, and sums of other rows.

#' Part the rows below a heading
#' @return `sheet` with `body` (rows that hold passes or sums), `lone` (rows of one cell of words, and in `lone_at` the
#'   column of it), `again` (the heading again), `rules`, and `summed` (rows of the body that are called like a sum).
#' @noRd
part_rows <- function(sheet) {
  cells <- sheet$grid$cells
  head <- sheet$head
  below <- setdiff(seq_len(nrow(cells)), c(head$above, head$top, head$row, head$units))
  lower <- cells[below, , drop = FALSE]
  drawn <- matrix(is.na(lower) | grepl("^[-=_+|:. ]{2,}$", lower), nrow(lower))
  rule <- below[rowSums(!drawn) == 0]
  again <- if (head$row > 0) {
    same <- lower == rep(cells[head$row, ], each = nrow(lower))
    below[rowSums(is.na(lower) == rep(is.na(cells[head$row, ]), each = nrow(lower)) &
      (is.na(same) | same)) == ncol(lower)]
  }
  rest <- setdiff(below, c(rule, again))
  filled <- rowSums(!is.na(cells[rest, , drop = FALSE]))
  single <- rest[filled == 1 & ncol(cells) > 1]
  at <- vapply(single, function(r) which(!is.na(cells[r, ])), 1L)
  wordy <- sheet$kinds[cbind(single, at)] == "word" | grepl("[[:alpha:]]{2}", cells[cbind(single, at)]) &
    sheet$kinds[cbind(single, at)] == "number"
  others <- setdiff(rest, single)
  # a label that stands in rows with numbers too is that of a pass without one
  label <- vapply(seq_along(single), function(i) {
    beside <- cells[others, at[i]]
    arm <- split_label(cells[single[i], at[i]])$arm
    cells[single[i], at[i]] %in% beside || !is.na(arm) && arm %in% split_label(beside)$arm
  }, NA)
  lone <- (wordy | number_titles(sheet, single, at)) & !label
  sheet$rules <- rule
  sheet$again <- again
  sheet$lone <- c(head$above[rowSums(!is.na(cells[head$above, , drop = FALSE])) == 1], single[lone])
  sheet$lone_at <- vapply(sheet$lone, function(r) which(!is.na(cells[r, ]))[1], 1L)
  sheet$body <- setdiff(rest, single[lone])
  sheet$summed <- called_sums(sheet)
  sheet$passes <- setdiff(sheet$body, sheet$summed)
  sheet
}

# rows that are no passes, with the reason
leave_rows <- function(sheet, rows, why) {
  sheet$left_out <- rbind(sheet$left_out, data.frame(row = rows, why = rep(why, length(rows))))
  sheet$passes <- setdiff(sheet$passes, rows)
  sheet$summed <- setdiff(sheet$summed, rows)
  sheet
}

# rows with fewer cells than the heading: where the missing one stood is not known
short_rows_out <- function(sheet) {
  short <- intersect(sheet$grid$short, sheet$body)
  said <- answered(sheet$said, "fields")
  if (!length(short) || identical(said, "end")) {
    return(sheet)
  }
  if (identical(said, "out")) {
    return(leave_rows(sheet, short, "fewer cells than the heading"))
  }
  asking(sheet, new_question(
    "fields", paste0(
      count_of(length(short), "row"), " with fewer cells than the heading (", sheet$grid$row, " ",
      some_of(sheet$grid$line[short]), ")"
    ),
    list(
      answer_choice("fields", "end", "what is missing is missing at the end"),
      answer_choice("fields", "out", "leave these rows out")
    ), short
  ))
}

# "1000 Hz", or 3200 where the baseline is 3000: no number of a pass, which would follow the one before
number_titles <- function(sheet, rows, at) {
  cells <- sheet$grid$cells
  text <- section_title(cells[cbind(rows, at)])
  before <- vapply(seq_along(rows), function(i) as_count(empty_to(cells[max(rows[i] - 1, 1), at[i]], NA)), 1)
  follows <- (as_count(text) == before + 1) %in% TRUE
  above <- section_title(stats::na.omit(as.vector(cells[sheet$head$above, ])))
  rep(any(sheet$said$baseline %in% c(text, above)), length(text)) & !follows
}

# rows in which a cell of words is one of the list of sums
called_sums <- function(sheet) {
  if (!length(sheet$body)) {
    return(integer())
  }
  cells <- sheet$grid$cells[sheet$body, , drop = FALSE]
  hit <- matrix(is_summary(cells) & sheet$kinds[sheet$body, , drop = FALSE] == "word", nrow(cells))
  several <- sheet$body[rowSums(hit) > 0]
  # arms that are all called so are arms; passes are never
  labels <- which(roles_of_headings(empty_na(sheet$head$names))$role %in% "pass")
  all_arms <- length(several) == length(sheet$body) && !any(hit[, labels])
  if (all_arms) integer() else several
}

#' The sections of a table: each row of it is of the title above
#' @noRd
settle_sections <- function(sheet) {
  cells <- sheet$grid$cells
  if (sheet$layout$kind != "sections") {
    return(settle_lone(sheet))
  }
  title <- section_title(cells[cbind(sheet$lone, sheet$lone_at)])
  of <- findInterval(sheet$body, sheet$lone)
  # a title of which no row is, above all others, is that of the whole table
  early <- sheet$body[of == 0]
  if (length(early) && is.null(answered(sheet$said, "sections"))) {
    return(asking(sheet, new_question(
      "sections", "some rows stand above the first title, so their arm is not known",
      list(answer_choice("sections", "out", "leave these rows out")), early
    )))
  }
  if (length(early)) sheet <- leave_rows(sheet, early, "above the first title")
  sheet$section <- ifelse(of == 0, NA, title[pmax(of, 1)])
  sheet$titles <- sheet$lone[sort(unique(of[of > 0]))]
  sheet
}

# titles and notes; between rows of passes they may say what was run
settle_lone <- function(sheet) {
  inside <- sheet$lone[sheet$lone > min(sheet$body, Inf) & sheet$lone < max(sheet$body, 0)]
  if (!length(inside)) {
    return(sheet)
  }
  title <- section_title(sheet$grid$cells[cbind(sheet$lone, sheet$lone_at)])
  said <- answered(sheet$said, "titles")
  if (is.null(said)) {
    return(asking(sheet, new_question(
      "titles", paste0(
        "rows of one cell stand between the passes: '",
        paste(utils::head(title[match(inside, sheet$lone)], 2),
          collapse = "', '"
        ), "'"
      ),
      list(
        answer_choice("titles", "workload", "what was run below each"),
        answer_choice("titles", "context", "a second factor below each"),
        answer_choice("titles", "note", "notes; leave them out")
      ), inside
    )))
  }
  if (said %in% c("workload", "context")) {
    of <- findInterval(sheet$body, sheet$lone)
    sheet$titled <- list(as = said, title = ifelse(of == 0, NA, title[pmax(of, 1)]))
    sheet$titles <- sheet$lone[unique(of[of > 0])]
  }
  sheet
}

#' Cells that were merged over the rows below, filled
#'
#' Only if the first is written, no value twice running, and every combination of keys then has the same passes.
#' @noRd
fill_merged <- function(sheet) {
  cells <- sheet$grid$cells
  sheet$filled <- cells
  # a round, a segment or a level may be none; an arm, a scene and a metric are written or merged
  needed <- sheet$roles$role %in% c("arm", "workload", "metric") |
    sheet$roles$role %in% "context" & !tolower(sheet$roles$name) %in% "context"
  keys <- which(needed)
  keys <- keys[vapply(keys, function(j) !all(is.na(cells[sheet$passes, j])), NA)]
  said <- answered(sheet$said, "blank")
  if (identical(said, "out")) {
    open <- rowSums(is.na(cells[sheet$passes, keys, drop = FALSE])) > 0
    return(leave_rows(sheet, sheet$passes[open], "a key is missing"))
  }
  merged <- keys[vapply(keys, function(j) anyNA(cells[sheet$passes, j]), NA)]
  for (j in merged) {
    v <- cells[sheet$passes, j]
    written <- v[!is.na(v)]
    # above the first there is nothing that it could be merged with
    if (is.na(v[1]) || is.null(said) && any(written[-1] == written[-length(written)])) {
      return(asking(sheet, ask_blank(sheet, j)))
    }
    sheet$filled[sheet$passes, j] <- written[cumsum(!is.na(v))]
  }
  if (length(merged) && is.null(said) && !fills_evenly(sheet)) sheet <- asking(sheet, ask_blank(sheet, merged[1]))
  sheet
}

ask_blank <- function(sheet, j) {
  name <- empty_to(sheet$roles$name[j], paste("column", j))
  new_question(
    "blank", paste0("cells of '", name, "' are empty: merged with the cell above, or missing?"),
    list(
      if (!is.na(sheet$grid$cells[sheet$passes[1], j])) {
        answer_choice("blank", "above", "each is what stands above it")
      },
      answer_choice("blank", "out", "leave those rows out")
    )
  )
}

fills_evenly <- function(sheet) {
  keys <- which(sheet$roles$role %in% c("arm", "workload", "context", "segment", "metric"))
  key <- do.call(paste, c(lapply(keys, function(j) sheet$filled[sheet$passes, j]), sep = "\r"))
  combinations <- prod(vapply(keys, function(j) length(unique(sheet$filled[sheet$passes, j])), 1L))
  count <- table(key)
  length(count) == combinations && length(unique(as.vector(count))) == 1
}
