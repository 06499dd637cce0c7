# From an estimate to a row: interval, verdict, and what would settle it.

fill_estimate <- function(row, found, family, two) {
  scale <- row$scale
  alpha <- family_alpha(row$confidence, family)
  crit <- critical_t(found, alpha)
  digits <- resolution(two$value)
  step <- max(digits, instrument_step(row$metric, two$seconds))
  # a count is whole by nature, not by rounding
  coarse <- if (is.null(found$events)) rounding_error(step, found, scale) else 0
  se <- max(found$se, coarse / crit)
  back <- if (scale == "percent") exp else identity
  interval <- found$estimate + c(-1, 1) * crit * se
  row$n_arm <- found$n_arm
  row$n_baseline <- found$n_baseline
  row$arm_value <- back(found$mean_arm)
  row$baseline_value <- back(found$mean_baseline)
  row$change <- to_shown(found$estimate, scale)
  row$lower <- to_shown(interval[1], scale)
  row$upper <- to_shown(interval[2], scale)
  row$noise <- to_shown(found$sd, scale)
  row$ruled_out <- max(abs(row$lower), abs(row$upper))
  row$detectable <- to_shown(detectable_effect(se, found$df, alpha, crit = found$crit), scale)
  # evidence that looks are allowed for holds whatever hangs together, by its sum
  by_looks <- !is.null(found$p)
  row$p_value <- if (by_looks) found$p else 2 * stats::pt(-abs(found$estimate / se), found$df)
  row$p_adjusted <- if (by_looks) min(1, family * found$p) else family_p(row$p_value, family)
  if (isTRUE(found$few)) row$codes <- list(new_code("few_events", n = round(sum(found$events))))
  if (se > found$se) {
    row$codes <- list(new_code("rounded", step = step, unit = row$unit, longer = step > digits))
  }
  row$coarse <- coarse
  row
}

decide <- function(row, found, family, ceilings) {
  alpha <- family_alpha(row$confidence, family)
  if (row$noise == 0 && row$lower == row$upper) {
    row$verdict <- "no basis"
    row$codes <- list(new_code("no_noise"))
    row$coarse <- NULL
    # passes that a limiter holds are alike to the last digit
    return(apply_ceiling(row, ceilings))
  }
  row$differs <- if (row$lower > 0 || row$upper < 0) "yes" else "no"
  row$verdict <- verdict_word(row$lower, row$upper, row$better, row$worth)
  row$more_passes <- 0
  if (row$verdict == "unclear") {
    row$more_passes <- units_to_answer(found, alpha, worth_band(row$worth, row$scale))
    if (is_hopeless(found, alpha, worth_band(row$worth, row$scale))) {
      row$codes <- c(row$codes, list(new_code("hopeless", most = found$most)))
    }
    # the instrument itself is too coarse: with no end of passes it would still be so
    best <- to_shown(found$estimate + c(-1, 1) * row$coarse, row$scale)
    if (row$coarse > 0 && verdict_word(best[1], best[2], row$better, row$worth) == "unclear") {
      row$more_passes <- Inf
      row$codes <- c(row$codes, list(new_code("too_coarse")))
    }
  }
  row$coarse <- NULL
  apply_ceiling(row, ceilings)
}

block_row <- function(row, code) {
  row$verdict <- "blocked"
  row$more_passes <- NA_real_
  row$differs <- NA_character_
  row$codes <- list(code)
  row
}
