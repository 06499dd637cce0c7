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

# parts of one run share what it was like: taken for passes they would show a noise that is none
part_roles <- c("loop", "look")

#' Runs whose loops stand a row each, where no column says of which run a row is: a label that comes again begins one
#' @param rows As `with_passes()` has them, with `loop` or `look`.
#' @return Numbers of runs within their arm and place.
#' @noRd
runs_of_parts <- function(rows) {
  part <- rows[[intersect(part_roles, names(rows))[1]]]
  key <- do.call(paste, c(
    unname(rows[intersect(c("arm", "workload", "segment", "context", "block", "metric", ".column"), names(rows))]),
    sep = "\r"
  ))
  out <- integer(length(part))
  for (at in split(seq_along(part), key)) {
    run <- 1L
    seen <- character()
    for (i in at) {
      if (part[i] %in% seen) {
        run <- run + 1L
        seen <- character()
      }
      seen <- c(seen, part[i])
      out[i] <- run
    }
  }
  out
}

#' Several numbers of one pass and metric: parts of it, or passes of their own?
#' @param rows Readings with `pass`. @return A list: `rows`, `questions`.
#' @noRd
settle_repeats <- function(rows, sheet) {
  # one id at two arms is a slip, and refused
  keys <- intersect(c("arm", "pass", "part", "workload", "segment", "context", "metric", part_roles), names(rows))
  key <- do.call(paste, c(unname(rows[keys]), sep = "\r"))
  again <- which(duplicated(key))
  called <- which(sheet$roles$role %in% "pass")
  if (!length(again) || length(called) != 1 || any(part_roles %in% names(rows))) {
    return(list(rows = rows))
  }
  said <- answered(sheet$said, "repeats")
  nth <- as.character(ordinal_within(rows[keys]))
  if (is.null(said)) {
    text <- sheet$grid$cells[rows$.row[again[1]], called]
    return(list(rows = rows, questions = list(new_question(
      "repeats", paste0(
        "'", sheet$roles$name[called], "' ", text, " has several numbers of the same metric (", sheet$grid$row, " ",
        some_of(sheet$grid$line[rows$.row[key == key[again[1]]]]), ")"
      ),
      list(
        answer_choice("repeats", "looks", "they were looked at within that pass; it counts once, with their mean"),
        answer_choice("repeats", "loops", "they are loops of that run; it counts once, with their mean and the worst"),
        answer_choice("repeats", "passes", "each row was started by itself")
      ), rows$.row[again]
    ))))
  }
  if (said == "passes") rows$pass <- paste(rows$pass, nth) else rows[[sub("s$", "", said)]] <- nth
  list(rows = rows)
}

#' Parts of a run as one reading of each metric: the mean of them, and of loops the worst too
#'
#' @param rows Readings with `loop` or `look`, and `better` of each (`NA`: not known).
#' @return `rows`, one for each pass and metric, with the attribute `loops` (data frame: `arm`, `workload`, `context`,
#'   `pass`, `metric`, `unit`, `better`, `loop`, `value`) where they were loops.
#' @noRd
fold_parts <- function(rows) {
  as <- intersect(part_roles, names(rows))[1]
  if (is.na(as)) {
    return(rows)
  }
  keys <- intersect(c("arm", "workload", "segment", "context", "block", "pass", "part", "metric"), names(rows))
  key <- do.call(paste, c(unname(rows[keys]), sep = "\r"))
  at <- unname(split(seq_along(key), factor(key, unique(key))))
  loops <- if (as == "loop") rows
  folded <- lapply(at, function(i) {
    counted <- i[rows$role[i] %in% c(NA, "counted") & !is.na(rows$value[i])]
    one <- rows[empty_to(counted, i)[1], , drop = FALSE]
    value <- rows$value[counted]
    # how any of its loops ended, the run did
    ended <- rows$outcome[i][!rows$outcome[i] %in% c(NA, "ok")]
    if (length(ended)) one$outcome <- ended[1]
    one$value <- if (length(value)) mean(value) else NA_real_
    worst <- if (as == "loop" && length(value) > 1 && one$better %in% c("higher", "lower")) {
      two <- one
      two$value <- if (one$better == "higher") min(value) else max(value)
      two$metric <- worst_loop_name(one$metric)
      two
    }
    rbind(one, worst)
  })
  out <- stack_rows(folded)
  out[part_roles] <- NULL
  structure(out, loops = if (!is.null(loops)) loops[intersect(loop_columns, names(loops))],
    parts = list(as = as, passes = length(unique(out$pass)), rows = length(unique(rows$.row)))
  )
}

loop_columns <- c("arm", "workload", "context", "pass", "metric", "unit", "better", "loop", "value", "role")

worst_loop_name <- function(metric) paste0(empty_to(metric, "score"), ", worst loop")
