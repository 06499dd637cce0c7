# A search as its ledger tells it: what each pass said, and what comes next.

#' @return An object of class `honestmargin_search`, a list: `plan` (with values that were added), `steps` (data frame,
#'   one row per pass of the search), `now` (from `climb_next()`, with `arm`, `good_arm`, `failed_arm`), `said`.
#' @noRd
load_search <- function(store, batch = NULL) {
  plan <- store_plan(store, batch)
  if (!is_search(plan)) {
    abort_input("this study compares given arms, and looks for no value", store$folder, "weigh it: honestmargin weigh")
  }
  said <- store_said(store, batch)
  plan <- plan_with_said(plan, said)
  passes <- store_passes(store, batch)
  # what is compared at the end is tried all the same
  steps <- search_steps(store, plan, passes[passes$role %in% c(search_roles, "counted"), , drop = FALSE])
  structure(
    list(plan = plan, steps = steps, now = climb_now(plan, steps, said), said = said, folder = store$folder),
    class = "honestmargin_search"
  )
}

#' What the passes of a search say
#' @return Data frame: `pass`, `arm`, `workload`, `role`, `outcome`, `seconds`, `boot`, `held` (`NA` where it says
#'   nothing: stopped by the tester, or not seen), `code`, `metric`, `value`, `limit` (of a failure by a number).
#' @noRd
search_steps <- function(store, plan, passes) {
  steps <- passes[c("pass", "arm", "workload", "role", "outcome", "seconds", "boot")]
  steps$seconds <- ifelse(is.na(steps$seconds), 0, steps$seconds)
  steps$held <- steps$outcome %in% outcomes_well
  # what shows artefacts does not hold
  steps$held[steps$outcome == "artefact"] <- FALSE
  steps$held[steps$outcome %in% not_the_arms] <- NA
  steps$held[lost_again(steps)] <- FALSE
  for (column in c("metric", "by")) steps[[column]] <- rep(NA_character_, nrow(steps))
  for (column in c("value", "limit")) steps[[column]] <- rep(NA_real_, nrow(steps))
  if (!length(plan$search$fails) || !nrow(steps)) {
    return(steps)
  }
  captured <- store_summaries(store, plan, passes)
  readings <- join_readings(passes, captured$readings, store_typed(store, plan, passes))
  for (rule in plan$search$fails) steps <- failed_by(steps, rule, readings, plan)
  steps
}

# A pass that takes the runner down each time must not be tried without end.
lost_again <- function(steps) {
  in_a_row <- function(lost) {
    n <- seq_along(lost)
    n - cummax(ifelse(lost > 0, 0, n))
  }
  lost <- steps$outcome == "lost"
  lost & stats::ave(as.numeric(lost), paste(steps$arm, steps$workload), FUN = in_a_row) >= 3
}

# one number of one pass against its limit
failed_by <- function(steps, rule, readings, plan) {
  rows <- readings[readings$metric == rule$metric & is.na(readings$segment), , drop = FALSE]
  value <- rows$value[match(steps$pass, rows$pass)]
  at <- is.null(rule$test) | steps$workload %in% rule$test
  mark <- function(steps, hit, by, limit) {
    hit <- which(hit & at & steps$held %in% TRUE)
    steps$held[hit] <- FALSE
    steps[hit, c("metric", "by")] <- list(rule$metric, by)
    steps$value[hit] <- value[hit]
    steps$limit[hit] <- limit[if (length(limit) > 1) hit else 1]
    steps
  }
  # a pass that does not say the number that decides has not held
  steps <- mark(steps, is.na(value), "silent", NA_real_)
  if (!is.null(rule$above)) steps <- mark(steps, value > rule$above, "above", rule$above)
  if (!is.null(rule$below)) steps <- mark(steps, value < rule$below, "below", rule$below)
  if (!is.null(rule$falls)) {
    start <- start_level(steps, value, plan)
    better <- described_metrics(plan)[[rule$metric]]$better
    worse <- if (identical(better, "lower")) value / start - 1 else 1 - value / start
    steps <- mark(steps, 100 * worse > rule$falls, "falls", start)
  }
  steps
}

# the mean of the start's passes in the same workload
start_level <- function(steps, value, plan) {
  use <- steps$arm == plan_arms(plan)[1] & steps$held %in% TRUE
  mean <- tapply(value[use], factor(steps$workload[use], unique(steps$workload)), mean)
  unname(mean[steps$workload])
}
