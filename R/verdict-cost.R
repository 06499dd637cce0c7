# What a gain costs: which arms nothing beats in both, and what they cost to run.

#' Arms that no other beats in value and in cost
#'
#' An arm leaves when another is surely better in one of the two and not worse in the other: one-sided t of each pair,
#' both at once (intersection-union), at a level shared by all ordered pairs.
#' @param value,cost Cells of one place with `y` (see `overall_cells()`); `cost` may be `NULL`, with `amount` instead.
#' @param amount Named numeric: what each arm costs, known without error.
#' @param arms In order. @param better Of the value. @param worth,worth_cost What may be lost of each, on the scale of
#'   analysis.
#' @return Data frame `arm`, `on` (nothing beats it), `by` (the arm that does).
#' @references Berger (1982), Technometrics 24, 295-300.
#' @noRd
unbeaten_arms <- function(value, cost, amount, arms, better, confidence, worth = 0, worth_cost = 0) {
  arms <- arms[arms %in% value$arm]
  level <- 1 - confidence^(1 / (length(arms) * max(1, length(arms) - 1)))
  up <- if (better == "lower") -1 else 1
  out <- data.frame(arm = arms, on = TRUE, by = NA_character_)
  for (i in seq_along(arms)) for (other in arms[-i]) {
    ahead <- lead_of(value, other, arms[i], up, level)
    saves <- if (is.null(cost)) log(amount[[arms[i]]] / amount[[other]]) else lead_of(cost, other, arms[i], -1, level)
    if (is.na(ahead) || is.na(saves)) next
    # a price is known: the same price is not worse
    cheaper <- if (is.null(cost)) saves >= 0 else saves > -worth_cost
    if ((ahead > 0 && cheaper) || (saves > 0 && ahead > -worth && is.finite(ahead))) {
      out[i, c("on", "by")] <- list(FALSE, other)
      break
    }
  }
  out
}

#' What running costs in a year, and when a dearer arm has paid for itself
#' @param watts,lower,upper Difference of the power against the baseline, in W. @param hours A day.
#' @param price Of one kWh. @param extra What the arm costs more than the baseline.
#' @return A list: `year`, `year_lower`, `year_upper`, `years` (to pay back; `Inf`: never), `years_lower`,
#'   `years_upper`.
#' @noRd
running_cost <- function(watts, lower, upper, hours, price, extra = NA_real_) {
  money <- function(w) w / 1000 * hours * 365 * price
  back <- function(w) ifelse(is.na(extra), NA_real_, ifelse(extra <= 0, 0, ifelse(w < 0, extra / -money(w), Inf)))
  list(
    year = money(watts), year_lower = money(lower), year_upper = money(upper), years = back(watts),
    years_lower = back(lower), years_upper = back(upper)
  )
}
