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
  plan <- apply_decisions(plan, said)
  passes <- store_passes(store, batch)
  # what is compared at the end is tried all the same
  steps <- search_steps(store, plan, passes[passes$role %in% c(search_roles, "counted"), , drop = FALSE])
  structure(
    list(
      plan = plan, steps = steps, now = climb_now(plan, steps, said), said = said, folder = store$folder,
      asked = asked_for_next(store)
    ),
    class = "honestmargin_search"
  )
}

# passes that the tester asked for by --try, whatever the climb would do next
asked_for_next <- function(store) {
  open <- store_open(store)
  open[open$extra == 1 & open$role %in% search_roles, , drop = FALSE]
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
  # what is not clear by one number may still fail by another
  open <- function(steps) steps$held %in% TRUE | steps$by %in% "unclear"
  mark <- function(steps, hit, by, limit, seen = value, held = FALSE) {
    hit <- which(hit & at & open(steps))
    steps$held[hit] <- held
    steps[hit, c("metric", "by")] <- list(rule$metric, by)
    steps$value[hit] <- seen[hit]
    steps$limit[hit] <- limit[if (length(limit) > 1) hit else 1]
    steps
  }
  # a pass that does not say the number that decides has not held
  steps <- mark(steps, is.na(value), "silent", NA_real_)
  if (!is.null(rule$above)) steps <- mark(steps, value > rule$above, "above", rule$above)
  if (!is.null(rule$below)) steps <- mark(steps, value < rule$below, "below", rule$below)
  if (!is.null(rule$falls)) {
    use <- which(at & open(steps) & is.finite(value))
    lower <- identical(described_metrics(plan)[[rule$metric]]$better, "lower")
    seen <- fallen(steps$arm[use], steps$workload[use], value[use], plan_arms(plan)[1], rule$falls, lower)
    among <- function(x) replace(rep(NA, nrow(steps)), use, x)
    mean <- among(seen$mean)
    steps <- mark(steps, among(is.na(seen$fallen)), "unclear", among(seen$start), mean, held = NA)
    steps <- mark(steps, among(seen$fallen), "falls", among(seen$start), mean)
  }
  steps
}

#' Has a score fallen, pass by pass?
#'
#' Each value is judged by the mean of its passes so far, beside that of the start's. One that is below the limit by no
#' more than passes vary by (one-sided 95 %, their variation pooled over all values tried so far in the workload) says
#' nothing yet, and is tried again; after four passes the mean decides.
#' @param arm,workload,value Of the passes in the order in which they ran. @param start The arm of the start.
#' @param limit In percent. @param lower Whether lower is better.
#' @return A list of vectors: `fallen` (`NA`: not clear yet), `mean` (of the value's passes so far), `start` (of the
#'   start's).
#' @noRd
fallen <- function(arm, workload, value, start, limit, lower = FALSE) {
  place <- paste(arm, workload, sep = "\r")
  so_far <- function(x, by) stats::ave(x, by, FUN = cumsum)
  n <- so_far(rep(1, length(value)), place)
  mean <- so_far(value, place) / n
  at_start <- arm == start
  k <- so_far(as.numeric(at_start), workload)
  level <- so_far(ifelse(at_start, value, 0), workload) / k
  # what was tried before the start is held against it once it has run
  early <- which(k == 0)
  all <- tapply(value[at_start], workload[at_start], mean)
  level[early] <- all[workload[early]]
  k[early] <- table(workload[at_start])[workload[early]]
  worse <- 100 * (if (lower) mean / level - 1 else 1 - mean / level)
  # without a start there is nothing to have fallen from
  out <- worse > limit & !is.na(worse)
  for (i in which(out & n < 4)) {
    before <- which(workload[seq_len(i)] == workload[i])
    noise <- relative_noise(value[before], arm[before])
    margin <- if (noise$df > 0) 100 * noise$sd * t_reach(0.1, noise$df) * sqrt(1 / n[i] + 1 / k[i]) else Inf
    if (worse[i] <= limit + margin) out[i] <- NA
  }
  list(fallen = out, mean = mean, start = as.numeric(level))
}

# of one pass, as a share of the mean of its arm; of nothing at all there is no share
relative_noise <- function(value, arm) {
  left <- value / stats::ave(value, arm) - 1
  left[!is.finite(left)] <- 0
  df <- length(value) - length(unique(arm))
  list(sd = sqrt(sum(left^2) / max(1, df)), df = df)
}
