# What days bring: how far one arm on one machine lies from itself from study to study.

#' The level of one arm in a study, as the memory keeps it
#'
#' @param readings Completed readings. @param setting,arm The name of the setting and the arm.
#' @param work By workload, a mark of what it runs.
#' @return Data frame, one row per workload, context and metric: `workload`, `context`, `metric`, `setting`, `arm`,
#'   `work`, `level` (in the metric's unit; geometric mean where changes are told in percent), `level_passes`.
#' @noRd
levels_of_study <- function(readings, setting, arm, work) {
  rows <- readings[is_counted(readings) & is.na(readings$segment) & readings$arm == arm, , drop = FALSE]
  table <- plain_table(rows)
  cells <- split_in_order(seq_len(nrow(table)), table$workload, table$context, table$metric)
  stack_rows(lapply(cells, function(at) {
    here <- table[at, , drop = FALSE]
    percent <- here$scale[1] == "percent" && all(here$value > 0)
    data.frame(
      workload = here$workload[1], context = here$context[1], metric = here$metric[1], setting = setting, arm = arm,
      work = work[[here$workload[1]]],
      level = if (percent) exp(mean(log(here$value))) else mean(here$value), level_passes = length(at)
    )
  }))
}

#' How far levels lie apart from day to day
#'
#' Whatever was changed on the machine between those days is in it too, so it is more than days alone bring, not less.
#' Studies of one day are one level: they do not say what another day brings.
#' @param memory Rows of the memory: of one machine, without the studies that are weighed.
#' @param first A list: `workload`, `context`, `metric`, `unit`, `scale` of the cell.
#' @param anchor Workload of which the level is taken off first, or `NULL`.
#' @param one_day `TRUE` where all that is weighed ran on one day: then studies of one day may speak.
#' @return `NULL` where no arm has two levels; else a list: `sd` (between levels, on the scale of analysis), `df`,
#'   `pass` (what one pass varies by), `passes` (behind a level, harmonic mean), `levels` (how many), `one_day`.
#' @noRd
spread_of_days <- function(memory, first, anchor = NULL, one_day = FALSE) {
  rows <- levels_of_cell(memory, first, first$workload)
  if (!is.null(anchor)) {
    beside <- levels_of_cell(memory, first, anchor)
    at <- match(rows$study, beside$study)
    rows$y <- rows$y - beside$y[at]
    rows$pass <- sqrt(rows$pass^2 + beside$pass[at]^2)
    rows$of <- paste(rows$of, beside$work[at], sep = "\r")
    rows <- rows[!is.na(at), , drop = FALSE]
  }
  if (!one_day) rows <- one_a_day(rows)
  rows <- rows[rows$of %in% rows$of[duplicated(rows$of)], , drop = FALSE]
  if (!nrow(rows)) {
    return(NULL)
  }
  df <- nrow(rows) - length(unique(rows$of))
  list(
    sd = sqrt(sum((rows$y - stats::ave(rows$y, rows$of))^2) / df), df = df,
    pass = sqrt(sum(rows$df_total * rows$pass^2) / sum(rows$df_total)), passes = 1 / mean(1 / rows$level_passes),
    levels = nrow(rows), one_day = one_day
  )
}

one_a_day <- function(rows) {
  if (!nrow(rows)) {
    return(rows)
  }
  code <- joint_code(rows$of, rows$day)
  first <- which(!duplicated(code))
  day <- match(code, code[first])
  n <- tabulate(day)
  sum_of <- function(x) as.numeric(rowsum(x, day))
  list2DF(list(
    of = rows$of[first], y = sum_of(rows$y) / n, pass = sqrt(sum_of(rows$pass^2) / n),
    level_passes = sum_of(rows$level_passes), df_total = sum_of(rows$df_total)
  ))
}

levels_of_cell <- function(memory, first, workload) {
  rows <- memory[memory$workload == workload & memory$metric == first$metric & memory$context %in% first$context &
    memory$scale == first$scale & memory$unit %in% first$unit & !is.na(memory$level), , drop = FALSE]
  rows$of <- paste(rows$setting, rows$arm, rows$work, sep = "\r")
  rows$y <- to_analysis(rows$level, first$scale)
  rows$pass <- to_analysis_noise(rows$total, first$scale)
  rows
}

#' Is the level of a study far from where this machine usually is?
#'
#' Predicted from three earlier days or more (`t(n - 1) s sqrt(1 + 1 / n)` at 99 %, Bonferroni over the metrics); days
#' that agree better than single passes do are taken to vary as a pass does.
#' @param own Rows as in the memory, of this study. @param memory As in `spread_of_days()`.
#' @return Findings.
#' @noRd
unusual_level <- function(own, memory) {
  do.call(bind_findings, lapply(seq_len(NROW(own)), function(i) {
    now <- own[i, ]
    rows <- levels_of_cell(memory, now, now$workload)
    rows <- one_a_day(rows[rows$of == paste(now$setting, now$arm, now$work, sep = "\r"), , drop = FALSE])
    n <- nrow(rows)
    if (n < 3) {
      return(NULL)
    }
    spread <- max(stats::sd(rows$y), sqrt(mean(rows$pass^2)))
    away <- to_analysis(now$level, now$scale) - mean(rows$y)
    if (abs(away) > t_reach(0.01 / nrow(own), n - 1) * spread * sqrt(1 + 1 / n)) {
      usual <- from_analysis(mean(rows$y), now$scale)
      new_finding("warning", "unusual_level",
        now = now$level, usual = usual, away = to_shown(away, now$scale), scale = now$scale, unit = now$unit,
        days = n, arm_said = now$arm, metric_said = now$metric,
        workload = now$workload, metric = now$metric, context = now$context
      )
    }
  }))
}
