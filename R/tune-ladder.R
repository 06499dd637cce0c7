# From the values of a plan to the rungs of a climb, and back.

#' Where the climb stands: each knob in turn, or all of them at once
#' @noRd
climb_now <- function(plan, steps, said) {
  search <- plan$search
  turns <- if (search$moves == "in_turn") length(search$ladders) else 1
  fixed <- vapply(search$ladders, `[`, "", 1)
  for (turn in seq_len(turns)) {
    arms <- if (turns == 1) ladder_arms(plan) else turn_arms(search$ladders, turn, fixed)
    on <- steps_on(steps, arms, search)
    rules <- rules_of_turn(plan, arms, turn, last = turn == turns, said)
    # what other knobs took, or parting them, is spent as well
    rules$most_passes <- rules$most_passes - (sum(!is.na(steps$held)) - length(on$rung))
    rules$most_seconds <- rules$most_seconds - (sum(steps$seconds[!is.na(steps$held)]) - sum(on$seconds))
    now <- climb_next(on, rules)
    name <- function(rung) if (isTRUE(rung > 0)) arms[rung] else NA_character_
    now$arm <- name(now$rung)
    now$good_arm <- name(now$good)
    now$failed_arm <- name(now$failed)
    now$workload <- if (!is.na(now$test)) search$tests[now$test] else NA_character_
    if (now$do == "soak") now$workload <- search$soak$test
    now$top <- isTRUE(now$rung == length(arms))
    part <- part_next(plan, steps, now, arms)
    if (!is.null(part)) {
      now[c("do", "why", "arm", "workload", "part", "top")] <- c(list("try", NA_character_), part, list(FALSE))
      return(now)
    }
    if (!identical(now$why, "found") || turn == turns) {
      return(now)
    }
    fixed[turn] <- search$ladders[[turn]][now$rung]
  }
}

turn_arms <- function(ladders, turn, fixed) {
  vapply(ladders[[turn]], function(value) knobs_joined(replace(fixed, turn, value)), "", USE.NAMES = FALSE)
}

rules_of_turn <- function(plan, arms, turn, last, said) {
  search <- plan$search
  number <- ladder_numbers(search$ladders[[turn]])
  soak <- if (last) empty_to(search$soak$minutes, 0) * 60 else 0
  climb_rules(
    length(arms), length(search$tests), search[["repeat"]], search$allowed,
    down = rungs_down(if (!anyNA(number)) number, length(arms), search$back_off), pace = search$pace,
    # the start is what all else is compared with
    skipped = setdiff(match(said$skip, arms, 0L), 0:1), soak_test = NA_integer_, soak_seconds = soak,
    most_passes = empty_to(search$most_passes, Inf), most_seconds = 3600 * empty_to(search$most_hours, Inf)
  )
}

# passes that say something, on the rungs of this climb
steps_on <- function(steps, arms, search) {
  rung <- match(steps$arm, arms)
  test <- match(steps$workload, search$tests)
  use <- !is.na(steps$held) & !is.na(rung)
  # a soak may have a workload of its own
  list(
    rung = rung[use], test = ifelse(is.na(test), 1L, test)[use], held = steps$held[use],
    seconds = steps$seconds[use], soak = (steps$role == "soak")[use]
  )
}

#' The way that a search takes if nothing fails
#' @return Data frame as from `plan_schedule()`; a soak as one pass per `seconds` of its workload, or one alone.
#' @noRd
climb_schedule <- function(plan) {
  seconds <- function(id) as.numeric(empty_to(workload_of(plan, id)$seconds, 60))
  said <- list(skip = character())
  steps <- data.frame(
    arm = character(), workload = character(), role = character(), held = logical(), seconds = numeric()
  )
  repeat {
    now <- climb_now(plan, steps, said)
    if (now$do == "done") break
    role <- if (now$do == "soak") "soak" else "rung"
    steps[nrow(steps) + 1, ] <- list(now$arm, now$workload, role, TRUE, seconds(now$workload))
  }
  if (now$why == "found" && now$rung > 1 && plan$blocks > 0) {
    compare <- compare_schedule(plan, c(plan_arms(plan)[1], now$arm))
    compare <- compare[c("arm", "workload", "role", "block", "start")]
  } else {
    compare <- NULL
  }
  visit <- cumsum(c(TRUE, steps$arm[-1] != utils::head(steps$arm, -1)))
  steps <- data.frame(steps[c("arm", "workload", "role")], block = NA_integer_, start = visit)
  if (!is.null(compare)) compare$start <- compare$start + max(visit)
  rows <- rbind(steps, compare)
  n <- nrow(rows)
  data.frame(
    pass = sprintf("p%03d", seq_len(n)), batch = rep(1L, n), position = seq_len(n), block = rows$block,
    start = rows$start, context = NA_character_, arm = rows$arm, workload = rows$workload, role = rows$role
  )
}
