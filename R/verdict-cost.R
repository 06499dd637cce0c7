# What a gain costs: which arms nothing beats in both, and what they cost to run.

#' Arms that no other beats in value and in cost
#'
#' An arm leaves when another is surely better in one of the two and not worse in the other: one-sided t of each pair,
#' both at once (intersection-union), at a level shared by all ordered pairs.
#' @param value,cost Cells of one place with `y` (see `overall_cells()`); `cost` may be `NULL`, with `amount` instead.
#' @param amount Named numeric: what each arm costs, known without error.
#' @param arms In order. @param better Of the value. @param worth What may be lost of it, on the scale of analysis.
#' @return Data frame `arm`, `on` (nothing beats it), `by` (the arm that does).
#' @references Berger (1982), Technometrics 24, 295-300.
#' @noRd
unbeaten_arms <- function(value, cost, amount, arms, better, confidence, worth = 0) {
  arms <- arms[arms %in% value$arm]
  level <- 1 - confidence^(1 / (length(arms) * max(1, length(arms) - 1)))
  up <- if (better == "lower") -1 else 1
  beats <- function(other, arm) {
    ahead <- lead_of(value, other, arm, up, level)
    saves <- if (is.null(cost)) log(amount[[arm]] / amount[[other]]) else lead_of(cost, other, arm, -1, level)
    # a price is known: the same price is not worse
    isTRUE((ahead > 0 && (saves > 0 || (is.null(cost) && saves == 0))) || (saves > 0 && ahead > -worth))
  }
  by <- vapply(arms, function(arm) {
    empty_to(Find(function(other) beats(other, arm), setdiff(arms, arm)), NA_character_)
  }, "")
  data.frame(arm = arms, on = is.na(by), by = unname(by))
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
