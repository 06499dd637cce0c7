# The question: of many options that were changed one at a time, which bring most, and which part does each load?

#' Options ranked
#'
#' Each arm is an option that was changed by itself against the start (the baseline), as in a sheet that somebody keeps
#' by hand; a plan with a block `screen` has [weigh_screen()]. Options whose effects are not separable share a rank.
#' Where each was read once there is no basis: they stand in the order of what was read, with the noise of one reading
#' at which the gap would no longer stand.
#' @param x Readings, a study, or what [weigh()] returned.
#' @param ... Passed to [weigh()] where `x` is not weighed yet.
#' @return An answer ([ask_study()]), a data frame, one row per place, metric and option: `workload`, `segment`,
#'   `context`, `metric`, `unit`, `scale`, `better`, `option`, `baseline`, `rank`, `passes`, `change`, `lower`, `upper`,
#'   `verdict`, `break_even` (percent or the metric's unit; only where each was read once), `loads` (what else changed,
#'   in words).
#' @section Errors: As [weigh()].
#' @export
#' @examples
#' sheet <- data.frame(
#'   option = c("start", "fog off", "water low"), fps = c(60, 66, 61)
#' )
#' rank_options(read_readings(sheet, columns = c(arm = "option")), baseline = "start")
rank_options <- function(x, ...) {
  verdicts <- weighed(x, ...)
  given <- what_was_weighed(verdicts)
  if (is_study(given) && is_screen(given$plan)) {
    abort_input("this study has a block screen", given$folder, "rank its options: honestmargin ask STUDY screen")
  }
  rows <- plain_table(verdicts)
  rows <- rows[rows$role == "primary" & !rows$metric %in% names(known_outcome_metrics()), , drop = FALSE]
  if (!nrow(rows)) abort_input("nothing that is judged has a number", todo = "see how they ended: ask STUDY outcomes")
  readings <- plain_table(readings_of(given))
  out <- stack_rows(lapply(unname(split(rows, factor(cell_key(rows), unique(cell_key(rows))))), function(here) {
    counted <- readings[is_counted(readings) & cell_key(readings) %in% cell_key(here)[1], , drop = FALSE]
    data.frame(
      here[c("workload", "segment", "context", "metric", "unit", "scale", "better")], option = here$arm,
      baseline = here$baseline, rank = option_ranks(here, counted), passes = here$n_arm,
      here[c("change", "lower", "upper", "verdict")], break_even = break_even_of(here), row.names = NULL
    )
  }))
  pairs <- unique(data.frame(out[c("workload", "context")], step = out$option, from = out$baseline, to = out$option))
  out$loads <- load_changes(out, loads_of_steps(readings_of(given), pairs))
  new_answer("options", out, given,
    confidence = verdicts$confidence[1], findings = findings_of(verdicts), failed = failed_arms(given)
  )
}

break_even_of <- function(rows) {
  vapply(seq_len(nrow(rows)), function(i) {
    as.numeric(empty_to(code_of(rows$codes[[i]], "break_even")$noise, NA_real_))
  }, 1)
}

# the effects of options share the passes of the start; without repeats the order of what was read is all there is
option_ranks <- function(rows, counted) {
  up <- if (rows$better[1] == "lower") -1 else 1
  counted$y <- to_analysis(counted$value, counted$scale[1])
  n <- table(factor(counted$arm, c(rows$baseline[1], rows$arm)))
  df <- nrow(counted) - sum(n > 0)
  means <- tapply(counted$y, factor(counted$arm, names(n)), mean)
  gain <- up * as.numeric(means[-1] - means[1])
  rank <- rep(NA_integer_, nrow(rows))
  known <- which(is.finite(gain))
  if (df < 1 || any(is.na(rows$lower[known]))) {
    rank[known] <- rank(-gain[known], ties.method = "min")
    return(rank)
  }
  variance <- sum((counted$y - means[counted$arm])^2) / df
  cov <- variance * (matrix(1 / n[1], length(known), length(known)) + diag(1 / as.numeric(n[-1][known]), length(known)))
  rank[known] <- tied_ranks(gain[known], cov, df, family_alpha(rows$confidence[1], length(known)))
  rank
}

# "graphics load +6 %"
load_changes <- function(out, loads) {
  if (!NROW(loads)) {
    return(rep("", nrow(out)))
  }
  vapply(seq_len(nrow(out)), function(i) {
    mine <- loads[loads$to == out$option[i] & loads$workload == out$workload[i] & loads$context %in% out$context[i], ]
    mine <- mine[mine$change != 0, , drop = FALSE]
    said <- show_change(mine$change, "absolute", mine$unit)
    paste(series_words(sub("_mean$", "", mine$metric)), said, collapse = ", ")
  }, "")
}

options_words <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  vapply(unname(split(rows, factor(cell_key(rows), unique(cell_key(rows))))), function(here) {
    here <- here[order(here$rank), , drop = FALSE]
    place <- step_place(here, rows, labels)
    once <- all(here$verdict == "no basis")
    listed <- function(mine) {
      paste0(arms_with_failures(mine$option, labels, attr(x, "failed"), TRUE), " (", shown_change(mine), ")")
    }
    if (once) {
      gap <- max(-Inf, here$break_even, na.rm = TRUE)
      return(paste0(
        place, "read once each, so there is no basis; in the order of what was read: ", some_of(listed(here), 6), ".",
        if (is.finite(gap)) {
          paste0(" The widest gap exceeds the noise only if one reading varies by less than ", show_number(gap, 2), if (
            here$scale[1] == "percent"
          ) " %" else paste0(" ", here$unit[1]), ".")
        }
      ))
    }
    won <- here[is_won(here$verdict), , drop = FALSE]
    lost <- here[is_lost(here$verdict), , drop = FALSE]
    rest <- nrow(here) - nrow(won) - nrow(lost)
    paste0(place, paste(c(
      if (nrow(won)) paste0("most is won by ", some_of(listed(won), 5)), if (nrow(lost)) paste0(
        "lost by ", some_of(listed(lost), 5)
      ), if (rest > 0) paste(count_of(rest, "option"), "negligible or unclear")
    ), collapse = "; "), ".")
  }, "")
}

options_shown <- function(x) {
  labels <- labels_of(x)
  rows <- plain_table(x)
  key <- paste(cell_key(rows), rows$rank)
  rows$tied <- duplicated(key) | duplicated(key, fromLast = TRUE)
  rows <- rows[order(match(cell_key(rows), unique(cell_key(rows))), rows$rank), , drop = FALSE]
  out <- data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, labels),
    rank = ifelse(is.na(rows$rank), "", paste0(rows$rank, ifelse(rows$tied, "=", ""))),
    option = arms_with_failures(rows$option, labels, attr(x, "failed"), TRUE),
    change = shown_change(rows), interval = shown_interval(rows), verdict = rows$verdict, loads = rows$loads
  )
  if (!any(nzchar(out$loads))) out$loads <- NULL
  out <- without_sole_place(out)
  shown_table(out, c("rank", "change"),
    whole = c("option", "interval"), group = intersect(c("workload", "metric"), names(out))
  )
}

register("question", "options",
  rank = 5.5, title = "Options ranked", about = "options changed one at a time: what each brings, and what it loads",
  answer = rank_options, takes = "weighing", lines = options_words, line = function(x) options_words(x)[1],
  tables = function(x) list(options_shown(x)),
  footing = function(x) {
    paste0(
      "=: not separable from the first of that rank. Intervals hold together at ", show_share(attr(x, "confidence")),
      ". Loads: means of the passes, not weighed."
    )
  },
  findings = function(x, exploratory) in_words(attr(x, "findings"))
)
