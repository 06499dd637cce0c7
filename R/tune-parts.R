# Which knob failed, where several are raised together: each is tried alone at the value that failed.

#' What the passes that part the knobs of a search say so far
#'
#' Each knob alone stands at the value that failed, the others at the last that held. It is tried in the test that
#' failed, as often as a value is repeated before it is believed, and for as long as it took until it failed.
#' @param failed,good Places on the ladder.
#' @return Data frame, one row per knob: `knob`, `arm`, `workload`, `held`, `failed` (passes), `settled`. `NULL` where
#'   there is nothing to part, or values between the two were passed over.
#' @noRd
parts_of <- function(plan, steps, failed, good) {
  search <- plan$search
  if (length(search$ladders) < 2 || search$moves != "together" || !search$part || is.na(failed) || good != failed - 1) {
    return(NULL)
  }
  at <- function(rung) vapply(search$ladders, `[`, "", rung)
  steps <- steps[!is.na(steps$held), , drop = FALSE]
  here <- steps[steps$arm == knobs_joined(at(failed)), , drop = FALSE]
  workload <- here$workload[match(FALSE, here$held)]
  here <- here[here$workload == workload, , drop = FALSE]
  needed <- sum(here$seconds[seq_len(match(FALSE, here$held))])
  stack_rows(lapply(seq_along(search$ladders), function(k) {
    arm <- knobs_joined(replace(at(good), k, at(failed)[k]))
    rows <- steps[steps$arm == arm & steps$workload == workload, , drop = FALSE]
    fell <- sum(!rows$held)
    data.frame(
      knob = k, arm = arm, workload = workload, held = sum(rows$held), failed = fell,
      settled = fell > search$allowed || nrow(rows) >= search[["repeat"]] && sum(rows$seconds) >= needed
    )
  }))
}

#' The pass that would part the knobs next
#' @param now From `climb_next()`. @param arms Of the ladder.
#' @return A list `arm`, `workload`, `part` (number of the knob); `NULL` where nothing is to be parted now.
#' @noRd
part_next <- function(plan, steps, now, arms) {
  # it is first climbed as far as it goes, and what is spent is spent
  if (now$why %in% c("spent", "start_fails") || isTRUE(now$rung > now$good)) {
    return(NULL)
  }
  parts <- parts_of(plan, steps, now$failed, now$good)
  open <- if (!is.null(parts)) parts[!parts$settled, , drop = FALSE]
  if (NROW(open)) list(arm = open$arm[1], workload = open$workload[1], part = open$knob[1])
}
