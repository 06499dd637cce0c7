# How noisy finished studies were, and what that says of the next one on the same machine.

#' The noise of every metric of a study
#'
#' @param readings Completed readings.
#' @return Data frame, one row per workload, context and metric that has at least two passes in an arm: `workload`,
#'   `context`, `metric`, `unit`, `scale`, `within` (standard deviation of one pass after what its block was like, in
#'   percent or the metric's unit), `df_within`, `total` (the same with it), `df_total`, `passes`, `boots` (what starts
#'   of the machine add to that, `NA` where they were not repeated) and `df_boots`.
#' @noRd
noise_of_study <- function(readings) {
  rows <- readings[is_counted(readings) & is.na(readings$segment) & readings$better != "none", , drop = FALSE]
  table <- plain_table(rows)
  cells <- split_in_order(seq_len(nrow(table)), table$workload, table$context, table$metric)
  stack_rows(lapply(cells, function(at) noise_of_cell(take_rows(table, at))))
}

noise_of_cell <- function(rows) {
  scale <- rows$scale[1]
  if (scale == "percent" && any(rows$value <= 0)) {
    return(NULL)
  }
  y <- to_analysis(rows$value, scale)
  arms <- length(unique(rows$arm))
  df_total <- length(y) - arms
  if (df_total < 1) {
    return(NULL)
  }
  left <- y - stats::ave(y, rows$arm)
  blocks <- if (anyNA(rows$block)) 1 else length(unique(rows$block))
  df_within <- length(y) - arms - blocks + 1
  # one arm alone: its blocks and its passes are one thing
  if (blocks > 1 && arms > 1 && df_within > 0) {
    inside <- additive_model(rows$arm, rows$block)$left(y)
  } else {
    inside <- left
    df_within <- df_total
  }
  sd <- c(sqrt(sum(inside^2) / df_within), sqrt(sum(left^2) / df_total))
  # copies of one pass are no noise
  if (sd[2] <= 0) {
    return(NULL)
  }
  shown <- to_shown(sd, scale)
  boots <- noise_of_boots(y, rows$arm, rows$boot)
  data.frame(
    workload = rows$workload[1], context = rows$context[1], metric = rows$metric[1], unit = rows$unit[1],
    scale = scale, within = shown[1], df_within = df_within, total = shown[2], df_total = df_total, passes = length(y),
    boots = to_shown(boots[["sd"]], scale), df_boots = boots[["df"]]
  )
}

#' What boots add, beyond what the passes inside them explain
#'
#' Means of boots vary by their own and by that of the passes they are means of; what is left when the latter is taken
#' off is theirs (one-way analysis of variance).
#' @noRd
noise_of_boots <- function(y, arm, boot) {
  group <- paste(arm, boot, sep = "\r")
  size <- as.numeric(table(group)[group])
  keep <- !is.na(boot) & size > 1
  arms <- tapply(group[keep], arm[keep], function(g) length(unique(g)))
  if (!any(arms > 1, na.rm = TRUE)) {
    return(c(sd = NA_real_, df = NA_real_))
  }
  keep <- keep & arm %in% names(arms)[arms > 1]
  means <- tapply(y[keep], group[keep], mean)
  owner <- tapply(arm[keep], group[keep], `[`, 1)
  df <- length(means) - length(unique(owner))
  between <- sum((means - tapply(means, owner, mean)[owner])^2) / df
  inside <- sum((y[keep] - means[group[keep]])^2) / (sum(keep) - length(means))
  c(sd = sqrt(max(0, between - inside * mean(1 / table(group[keep])))), df = df)
}

#' Noise of one machine over several studies
#'
#' Single passes are weighed with all that moves them from day to day, so with the total noise; and since studies
#' differ in how noisy they are, it is known less well than its degrees of freedom say: `1 / (1 / nu + 2 tau^2)`, with
#' `tau` the standard deviation of the logarithm of the noise between studies (0.4 where there is one study only).
#' @param memory Rows of `noise_of_study()` with `study`, `day` and `machine`, of one machine.
#' @param which `total` for single passes, `within` for passes in blocks.
#' @return Data frame `workload`, `metric`, `scale`, `noise`, `boots` (what starts of the machine add), `df`, `studies`,
#'   `last`, `source`.
#' @noRd
pool_noise <- function(memory, which = "total") {
  if (!NROW(memory)) {
    return(NULL)
  }
  cells <- split_in_order(seq_len(nrow(memory)), memory$workload, memory$metric, memory$scale)
  stack_rows(lapply(cells, function(at) {
    rows <- memory[at, , drop = FALSE]
    sd <- to_analysis_noise(rows[[which]], rows$scale[1])
    df <- rows[[paste0("df_", which)]]
    nu <- sum(df)
    tau <- if (nrow(rows) > 1) stats::sd(log(sd)) else 0.4
    studies <- length(unique(rows$study))
    data.frame(
      workload = rows$workload[1], metric = rows$metric[1], scale = rows$scale[1],
      noise = to_shown(sqrt(sum(df * sd^2) / nu), rows$scale[1]), boots = pool_boots(rows),
      df = 1 / (1 / nu + 2 * tau^2), studies = studies,
      last = max(rows$day),
      source = paste0(
        "the noise memory of this machine (", count_of(studies, "study", "studies"), ", last ", max(rows$day), ")"
      )
    )
  }))
}

pool_boots <- function(rows) {
  known <- is.finite(empty_to(rows$boots, rep(NA_real_, nrow(rows))))
  sd <- to_analysis_noise(rows$boots[known], rows$scale[1])
  df <- rows$df_boots[known]
  if (any(known)) to_shown(sqrt(sum(df * sd^2) / sum(df)), rows$scale[1]) else NA_real_
}

#' Is a study much noisier, or much quieter, than its machine usually is?
#'
#' @param own From `noise_of_study()`. @param pooled From `pool_noise()`, of other studies.
#' @return Findings: ratios of 2 or more whose F test has p below 0.01.
#' @noRd
unusual_noise <- function(own, pooled) {
  at <- match(paste(own$workload, own$metric, own$scale), paste(pooled$workload, pooled$metric, pooled$scale))
  do.call(bind_findings, lapply(which(!is.na(at)), function(i) {
    usual <- pooled[at[i], ]
    sd <- to_analysis_noise(c(own$total[i], usual$noise), own$scale[i])
    ratio <- sd[1] / sd[2]
    p <- 2 * min(
      stats::pf(ratio^2, own$df_total[i], usual$df), stats::pf(ratio^2, own$df_total[i], usual$df, lower.tail = FALSE)
    )
    if (p < 0.01 && (ratio >= 2 || ratio <= 0.5)) {
      new_finding(if (ratio > 1) "warning" else "note", "unusual_noise",
        ratio = max(ratio, 1 / ratio), noisier = ratio > 1, usual = usual$noise, now = own$total[i],
        scale = own$scale[i], studies = usual$studies, metric_said = own$metric[i], workload = own$workload[i],
        metric = own$metric[i], context = own$context[i]
      )
    }
  }))
}

#' As `--noise FILE` reads it
#' @noRd
memory_as_noise <- function(memory) {
  machines <- split(memory, factor(memory$machine, unique(memory$machine)))
  out <- stack_rows(lapply(machines, pool_noise))
  if (is.null(out)) {
    data.frame(workload = character(), metric = character())
  } else {
    out[c("workload", "metric", "noise", "df", "source")]
  }
}
