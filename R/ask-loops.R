# The question: how level is a run held over its loops?

#' Loops of runs
#'
#' The loops of one run (a stress run of 20 loops, say) share what that run was like, so they are one unit: [weigh()]
#' takes the mean and the worst loop of each run. This shows what the loops themselves did.
#' @param x Readings from [read_readings()], or what [weigh()] returned.
#' @param ... Not used.
#' @return An answer ([ask_study()]), a data frame, one row per run and metric: `workload`, `context`, `metric`, `unit`,
#'   `better`, `arm`, `pass`, `loops` (how many), `first`, `best`, `lowest` (the worst), `last`, `level` (percent: worst
#'   over best), `from` (the loop from which on they are lower than before, `NA`: none is shown), `fall` (percent). The
#'   attribute `each` is every loop.
#' @section Errors: `honestmargin_error_input` where no loops were read.
#' @export
#' @examples
#' rows <- data.frame(
#'   device = rep(c("one", "other"), each = 8), loop = rep(1:8, 2),
#'   score = c(60, 61, 60, 61, 60, 60, 61, 60, 62, 61, 62, 55, 54, 54, 55, 54)
#' )
#' run_loops(read_readings(rows, baseline = "one", better = c(score = "higher")))
run_loops <- function(x, ...) {
  assert_no_dots(...)
  x <- what_was_weighed(x)
  each <- attr(readings_of(x), "loops")
  if (is.null(each)) {
    abort_input("no loops were read", todo = paste(
      "a table has them in a column 'loop', a row for each loop; ask that table, since a study or a report that was",
      "made of it holds the mean and the worst loop of each run only"
    ))
  }
  each[setdiff(loop_columns, names(each))] <- NA
  each$workload[is.na(each$workload)] <- "main"
  each$unit[is.na(each$unit)] <- ""
  counted <- each[!is.na(each$value) & each$role %in% c(NA, "counted"), , drop = FALSE]
  at <- split_in_order(
    seq_len(nrow(counted)), counted$workload, counted$context, counted$metric, counted$arm, counted$pass
  )
  # over all runs together one study in twenty names a fall that is none
  alpha <- max(0.05 / max(1, length(at)), 0.001)
  rows <- stack_rows(lapply(at, function(i) {
    place <- counted[i[1], c("workload", "context", "metric", "unit", "better", "arm", "pass")]
    cbind(place, as.data.frame(loop_summary(counted$value[i], place$better, alpha)), row.names = NULL)
  }))
  new_answer("loops", rows, x, each = counted, failed = failed_arms(x))
}

loops_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  key <- paste(rows$workload, rows$context, rows$metric, sep = "\r")
  unlist(lapply(unname(split(rows, factor(key, unique(key)))), function(here) {
    place <- step_place(here, with_no_segment(rows), labels)
    arms <- split(here, factor(here$arm, unique(here$arm)))
    said <- vapply(arms, loops_of_arm, "", labels = labels, failed = attr(x, "failed"))
    paste0(place, paste(said, collapse = "; "), ".")
  }))
}

# places have a segment everywhere else
with_no_segment <- function(rows) {
  rows$segment <- NA_character_
  rows
}

# "alpha holds 97 % (worst loop over best)", "beta holds 81 %, falls by 12 % from loop 8 on"
loops_of_arm <- function(mine, labels, failed) {
  span <- function(v, digits = 3) paste(unique(show_number(range(v), digits)), collapse = " to ")
  fell <- !is.na(mine$from)
  paste0(
    arms_with_failures(mine$arm[1], labels, failed), if (!anyNA(mine$level)) paste0(" holds ", span(mine$level), " %"),
    if (any(fell)) {
      paste0(
        ", falls by ", span(abs(mine$fall[fell]), 2), " % from loop ",
        paste(unique(range(mine$from[fell])), collapse = " to "), " on",
        if (!all(fell)) paste(" in", sum(fell), "of", count_of(nrow(mine), "run"))
      )
    } else {
      ", no fall shown"
    }
  )
}

loops_shown <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  out <- data.frame(
    workload = place_names(rows[c("workload", "context")]), metric = metric_labels(rows$metric, labels),
    run = ifelse(stats::ave(seq_along(rows$arm), rows$workload, rows$metric, rows$arm, FUN = length) > 1,
      rows$pass, arm_names(rows$arm, labels)
    ),
    loops = rows$loops, first = four_digits(rows$first), best = four_digits(rows$best),
    worst = four_digits(rows$lowest), last = four_digits(rows$last),
    held = ifelse(is.na(rows$level), "", paste(show_number(rows$level, 3), "%")),
    `falls from` = ifelse(
      is.na(rows$from), "", paste0("loop ", rows$from, " (", show_change(signif(rows$fall, 2), "percent"), ")")
    ),
    check.names = FALSE
  )
  out <- without_sole_place(out)
  shown_table(out, c("loops", "first", "best", "worst", "last", "held"),
    whole = "falls from", group = intersect(c("workload", "metric"), names(out))
  )
}

register("question", "loops",
  rank = 9.5, title = "Loops of each run", about = "how level each run is held over its loops",
  answer = run_loops, lines = loops_words, line = function(x) loops_words(x)[1],
  tables = function(x) list(loops_shown(x)),
  report = function(verdicts) if (!is.null(attr(readings_of(what_was_weighed(verdicts)), "loops"))) run_loops(verdicts),
  footing = function(x) {
    paste(
      "held: the worst loop over the best. falls from: the split of the loops in two with the largest fall, where few",
      "shuffles of the same loops have one as large (5 % over all runs). Loops of one run are one unit: weigh takes",
      "their mean and the worst."
    )
  }
)
