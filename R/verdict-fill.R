# From estimates to rows: interval, verdict, and what would settle it, for all comparisons at once.

#' Judge comparisons
#'
#' @param rows From `bind_contrasts()`. @param ceilings Held arms, or `NULL`. @param settle Whether to look for what
#'   would settle what is not clear.
#' @return `rows` with the columns of verdicts; those without an estimate are `no basis`, their `codes` still to come.
#' @noRd
judge_contrasts <- function(rows, ceilings, settle = TRUE) {
  rows <- c(rows, blank_columns(rows))
  at <- which(rows$found)
  e <- columns_at(rows[intersect(names(rows), c(estimate_columns, "crit", "few"))], at)
  if (length(at)) rows <- put_columns(rows, at, decide(fill_estimates(columns_at(rows, at), e), e, settle))
  for (i in at[rows$workload[at] %in% ceilings$workload]) rows <- change_row(rows, i, apply_ceiling, ceilings)
  rows
}

estimate_columns <- c(
  "estimate", "se", "df", "sd", "mean_arm", "mean_baseline", "n_arm", "n_baseline", "units", "each",
  names(estimate_defaults)
)

# what holds where nothing can be said but what was measured
blank_columns <- function(rows) {
  n <- length(rows$arm)
  none <- rep(NA_real_, n)
  gap <- rows$y_arm - rows$y_baseline
  list(
    alpha = family_alpha(rows$confidence, rows$family_size),
    arm_value = from_analysis(rows$y_arm, rows$scale), baseline_value = from_analysis(rows$y_baseline, rows$scale),
    change = to_shown(gap, rows$scale), lower = none, upper = none, differs = rep(NA_character_, n),
    verdict = rep("no basis", n), codes = vector("list", n), ruled_out = none, noise = none, detectable = none,
    more_passes = none, p_value = none, p_adjusted = none, coarse = none
  )
}

fill_estimates <- function(rows, e) {
  scale <- rows$scale
  # a count is whole by nature, not by rounding
  coarse <- ifelse(is.na(e$events), rounding_error(rows$step, e, scale), 0)
  se <- pmax(e$se, coarse / e$crit)
  rows$least_half <- empty_to(rows$least_half, numeric(length(se)))
  half <- pmax(e$crit * se, rows$least_half)
  # evidence that looks are allowed for holds whatever hangs together, by its sum
  se <- half / e$crit
  by_looks <- !is.na(e$wanted)
  family <- rows$family_size
  p <- 2 * stats::pt(-abs(e$estimate / se), e$df)
  # of the interval as it is shown, whatever widened it
  p[by_looks] <- ifelse(is.na(e$p), NA_real_, pmin(1, 1 / e_value(e$estimate / se, e$units)))[by_looks]
  rows[c("passes_arm", "passes_baseline")] <- list(e$n_arm, e$n_baseline)
  rows$arm_value <- from_analysis(e$mean_arm, scale)
  rows$baseline_value <- from_analysis(e$mean_baseline, scale)
  rows$change <- to_shown(e$estimate, scale)
  rows[c("lower", "upper")] <- interval_about(e$estimate, half, function(y) to_shown(y, scale))
  rows$noise <- to_shown(e$sd, scale)
  rows$ruled_out <- pmax(abs(rows$lower), abs(rows$upper))
  rows$detectable <- to_shown(detectable_effect(se, e$df, e$crit), scale)
  rows$p_value <- p
  rows$p_adjusted <- ifelse(by_looks, pmin(1, family * p), family_p(p, family))
  rows$coarse <- coarse
  rows <- add_codes(rows, e$few, function(i) new_code("few_events", n = round(e$events[i])))
  rows <- add_codes(rows, rows$least_half > e$crit * pmax(e$se, coarse / e$crit), function(i) {
    few <- rows$replicated[i]
    new_code("few_signs", have = count_of(e$units[i], few, plural_of(few)), more = plural_of(few), family = family[i])
  })
  add_codes(rows, coarse / e$crit > e$se, function(i) {
    new_code("rounded", step = rows$step[i], unit = rows$unit[i], longer = rows$step[i] > rows$digits[i])
  })
}

decide <- function(rows, e, settle) {
  alike <- rows$noise == 0 & rows$lower == rows$upper
  rows$codes[alike] <- list(list(new_code("no_noise")))
  at <- which(!alike)
  rows$differs[at] <- ifelse(rows$lower[at] > 0 | rows$upper[at] < 0, "yes", "no")
  rows$verdict[at] <- verdict_word(rows$lower[at], rows$upper[at], rows$better[at], rows$worth[at])
  rows <- tell_moderated(rows, e)
  rows$more_passes[at] <- 0
  at <- which(rows$verdict == "unclear")
  if (length(at) && settle) settle_later(rows, e, at) else rows
}

# a verdict that only the noise of other cells gives is marked as such
tell_moderated <- function(rows, e) {
  at <- which(!is.na(e$alone_se) & rows$role == "primary")
  if (!length(at)) {
    return(rows)
  }
  crit <- t_quantile(e$alone_df[at], rows$alpha[at])
  half <- pmax(crit * e$alone_se[at], rows$coarse[at], rows$alone_half[at])
  ends <- interval_about(e$estimate[at], half, function(y) to_shown(y, rows$scale[at]))
  alone <- verdict_word(ends$lower, ends$upper, rows$better[at], rows$worth[at])
  only <- alone != rows$verdict[at]
  add_codes(rows, replace(logical(length(rows$arm)), at, only), function(i) {
    new_code("moderated", alone = alone[match(i, at)])
  })
}

# what would settle those that are not clear
settle_later <- function(rows, e, at) {
  band <- worth_bands(rows$worth[at], rows$scale[at])
  rows$more_passes[at] <- units_to_answer(columns_at(e, at), rows$alpha[at], band)
  hopeless <- replace(logical(length(rows$arm)), at, is_hopeless(columns_at(e, at), rows$alpha[at], band))
  rows <- add_codes(rows, hopeless, function(i) new_code("hopeless", most = e$most[i]))
  # the instrument itself is too coarse: with no end of passes it would still be so
  best <- function(side) to_shown(e$estimate[at] + side * rows$coarse[at], rows$scale[at])
  word <- verdict_word(best(-1), best(1), rows$better[at], rows$worth[at])
  coarse <- replace(logical(length(rows$arm)), at, rows$coarse[at] > 0 & word == "unclear")
  rows$more_passes[coarse] <- Inf
  add_codes(rows, coarse, function(i) new_code("too_coarse"))
}

#' One more code for those rows that it is true of
#' @param make A function of the row's number, or a list of codes by row.
#' @noRd
add_codes <- function(rows, which, make) {
  for (i in base::which(which)) rows$codes[[i]] <- c(rows$codes[[i]], list(make(i)))
  rows
}

put_columns <- function(rows, at, some) {
  for (column in names(some)) rows[[column]][at] <- some[[column]]
  rows
}

#' Change one row as a list
#' @noRd
change_row <- function(rows, i, change, ...) {
  row <- change(lapply(rows, `[[`, i), ...)
  for (column in c("verdict", "differs", "more_passes")) rows[[column]][i] <- row[[column]]
  rows$codes[i] <- list(row$codes)
  rows
}

block_row <- function(row, code) {
  row$verdict <- "blocked"
  row$more_passes <- NA_real_
  row$differs <- NA_character_
  row$codes <- list(code)
  row
}
