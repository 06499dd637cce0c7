# Numbers that may be rounds, repeats of one arm, or loops of one run: asked.

#' Rows sorted by arm whose repeats are numbered under the name of a round: which of both they are is asked
#'
#' Where the order is not known, rounds of all arms and repeats of one arm after the other are written alike.
#' @noRd
ask_rounds <- function(sheet) {
  roles <- sheet$roles
  block <- which(roles$role %in% "block")
  arm <- which(roles$role %in% "arm")
  if (length(block) != 1 || length(arm) != 1 || roles$by[block] == "declared" ||
    any(roles$role %in% c("order", "boot", "pass", "when"))) {
    return(sheet)
  }
  cells <- sheet$grid$cells[sheet$passes, , drop = FALSE]
  if (anyNA(cells[, c(arm, block)])) {
    return(sheet)
  }
  place <- row_keys(sheet, c("workload", "segment", "context", "metric"))
  sorted <- vapply(split(cells[, arm], place), function(a) {
    length(unique(a)) > 1 && length(rle(a)$lengths) == length(unique(a)) && anyDuplicated(a) > 0
  }, NA)
  if (!any(sorted)) {
    return(sheet)
  }
  name <- roles$name[block]
  asking(sheet, new_question(
    "rounds", paste0("is '", name, "' a round in which every arm ran once, or does it number the passes of each arm?"),
    list(
      column_choice("block", name, "each round ran every arm"), column_choice("pass", name, "it only numbers them")
    )
  ))
}

# loops share what their run was like: taken for passes they would show a noise that is none
ask_loops <- function(sheet) {
  loops <- which(heading_key(empty_na(sheet$roles$name)) %in% c("loop", "loops", "schleife", "schleifen") &
    !sheet$roles$by %in% "declared")
  if (!length(loops)) {
    return(sheet)
  }
  name <- sheet$roles$name[loops[1]]
  sheet$questions <- Filter(function(q) !grepl(paste0("'", name, "'"), q$seen, fixed = TRUE), sheet$questions)
  asking(sheet, new_question(
    "loops", paste0(
      "loops of one run are no passes, and '", name,
      "' numbers loops: give each run a row with its mean"
    ),
    list(column_choice("pass", name, "each was started by itself"))
  ))
}
