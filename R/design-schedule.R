# From a plan to the list of its passes, in the order in which they will run.

#' @param plan A checked plan.
#' @param batch 1 for the study, 2 and on for repeats that are weighed alone.
#' @param after How many passes have an id already.
#' @param coin Decides the order of blind pairs, see `blind_schedule()`; `NULL`: as it may look before it is drawn.
#' @return Data frame, one row per pass: `pass`, `batch`, `position`, `block`,
#'   `start` (passes of one start share what the start brought), `context`, `arm`,
#'   `workload`, `role`.
#' @noRd
plan_schedule <- function(plan, batch = 1, after = 0, coin = NULL) {
  # a search decides from pass to pass what comes next
  if (is_search(plan)) {
    plan$blocks <- 1
    return(compare_schedule(plan, plan_arms(plan)[1:2], batch, after)[0, ])
  }
  arms <- plan_arms(plan)
  planned <- length(arms) * plan$blocks * length(plan_contexts(plan)) * length(plan_workloads(plan)) *
    plan$passes_per_block
  if (planned > most_passes) {
    abort_input(
      paste0(format(planned, big.mark = ",", scientific = FALSE), " passes are planned"),
      todo = "more than anybody runs: are blocks and passes_per_block right?"
    )
  }
  seed <- plan$seed + 1000 * (batch - 1)
  visits <- if (plan$setting$one_way) one_way_visits(plan, arms) else block_visits(plan, arms, seed)
  each_start <- plan$setting$restart == "machine"
  warm_up <- plan$warm_up
  counted <- plan$passes_per_block
  rows <- lapply(seq_len(nrow(visits)), function(i) {
    first <- i == 1 || visits$start[i] != visits$start[i - 1]
    warm <- if ((each_start && first) || i == 1) warm_up else 0
    visit_passes(visits[i, ], plan_workloads(plan), warm, counted)
  })
  out <- do.call(rbind, rows)
  if (!each_start && warm_up > 0) out$arm[out$role == "warm_up"] <- plan$setting$baseline
  out <- toggled_sessions(plan, out)
  out$position <- seq_len(nrow(out))
  out$pass <- sprintf("p%03d", after + out$position)
  out$batch <- as.integer(batch)
  if (is_blind(plan)) out <- blind_schedule(out, arms, empty_to(coin, function(what, ...) rep(FALSE, length(what))))
  out[c("pass", "batch", "position", "block", "start", "context", "arm", "workload", "role")]
}

#' What was found, against the start: as any study of two arms
#' @noRd
compare_schedule <- function(plan, arms, batch = 1, after = 0) {
  plan_schedule(compared_plan(plan, arms), batch, after)
}

most_passes <- 1e5

# Where the setting is flipped inside a pass, one pass a block holds all arms; it
# begins with the baseline.
toggled_sessions <- function(plan, schedule) {
  schedule[!schedule$workload %in% toggled_workloads(plan) | schedule$arm == plan$setting$baseline, , drop = FALSE]
}

# Within a block the contexts are gone through one after the other, since
# changing them may cost as much as changing the setting.
block_visits <- function(plan, arms, seed) {
  contexts <- plan_contexts(plan)
  order <- plan$order
  # a level that is put in place without a restart does not ask for one of its own
  if (plan$setting$restart == "machine" && length(contexts) > 1 && is.null(plan$context$by_hand)) {
    return(visits_by_start(arms, plan$blocks, order, seed, contexts))
  }
  parts <- lapply(seq_along(contexts), function(c) {
    cbind(arms_in_blocks(plan, arms, seed + 100 * (c - 1)), context = contexts[c], turn = c)
  })
  visits <- do.call(rbind, parts)
  turn <- if (order == "fixed") visits$turn else (visits$turn + visits$block) %% length(contexts)
  visits <- visits[order(visits$block, turn), c("block", "context", "arm")]
  visits$start <- seq_len(nrow(visits))
  visits
}

arms_in_blocks <- function(plan, arms, seed) {
  if (is_screen(plan)) {
    screen_order(plan, plan$blocks, plan$order, seed)
  } else {
    arm_schedule(arms, plan$blocks, plan$order, seed)
  }
}

# all levels in each start, beginning with another one each time
visits_by_start <- function(arms, blocks, order, seed, contexts) {
  starts <- arm_schedule(arms, blocks, order, seed)
  starts$start <- seq_len(nrow(starts))
  n <- length(contexts)
  visits <- starts[rep(starts$start, each = n), , drop = FALSE]
  turn <- if (order == "fixed") 0 else visits$start - 1
  visits$context <- contexts[(rep(seq_len(n) - 1, nrow(starts)) + turn) %% n + 1]
  visits[c("block", "context", "arm", "start")]
}

# An old state that cannot come back runs first, all of it; time and setting are
# then one thing, which only passes of an unchanged workload can take apart.
one_way_visits <- function(plan, arms) {
  arms <- c(plan$setting$baseline, setdiff(arms, plan$setting$baseline))
  blocks <- plan$blocks
  visits <- expand.grid(context = plan_contexts(plan), block = seq_len(blocks), arm = arms, stringsAsFactors = FALSE)
  visits$block <- NA
  visits$start <- seq_len(nrow(visits))
  visits[c("block", "context", "arm", "start")]
}

visit_passes <- function(visit, workloads, warm_up, counted) {
  one <- function(role, times) {
    if (times > 0) data.frame(visit, workload = rep(workloads, times), role = role, row.names = NULL)
  }
  warm <- one("warm_up", warm_up)
  if (!is.null(warm)) warm$block <- NA
  rbind(warm, one("counted", counted))
}

#' How long the schedule will take, in seconds; `NA` where the plan does not say how long a pass takes
#' @noRd
schedule_seconds <- function(plan, schedule) {
  of <- function(key, default) {
    value <- vapply(plan$workloads, function(w) as.numeric(empty_to(w[[key]], default)), 1)
    stats::setNames(value, plan_workloads(plan))
  }
  pauses <- sum(vapply(plan$gates, function(g) as.numeric(g$pause), 1))
  passes <- sum(of("seconds", NA)[schedule$workload] + of("settle", 0)[schedule$workload] + pauses)
  # a restart of a machine takes minutes; two is what is assumed and said
  passes + if (plan$setting$restart == "machine") 120 * max(schedule$start) else 0
}
