# From a plan to the list of its passes, in the order in which they will run.

#' @param plan A checked plan.
#' @param batch 1 for the study, 2 and on for repeats that are weighed alone.
#' @return Data frame, one row per pass: `pass`, `batch`, `position`, `block`,
#'   `start` (passes of one start share what the start brought), `context`, `arm`,
#'   `workload`, `role`.
#' @noRd
plan_schedule <- function(plan, batch = 1) {
  arms <- plan_arms(plan)
  seed <- empty_to(plan$seed, 1) + 1000 * (batch - 1)
  visits <- if (isTRUE(plan$setting$one_way)) one_way_visits(plan, arms) else block_visits(plan, arms, seed)
  each_start <- identical(plan$setting$restart, "machine")
  warm_up <- empty_to(plan$warm_up, 0)
  counted <- empty_to(plan$passes_per_block, 1)
  rows <- lapply(seq_len(nrow(visits)), function(i) {
    warm <- if (each_start || i == 1) warm_up else 0
    visit_passes(visits[i, ], plan_workloads(plan), warm, counted)
  })
  out <- do.call(rbind, rows)
  if (!each_start && warm_up > 0) out$arm[out$role == "warm_up"] <- plan$setting$baseline
  out <- toggled_sessions(plan, out)
  prefix <- if (batch == 1) "p" else paste0("r", batch, "-")
  out$position <- seq_len(nrow(out))
  out$pass <- sprintf(paste0(prefix, "%03d"), out$position)
  out$batch <- batch
  out[c("pass", "batch", "position", "block", "start", "context", "arm", "workload", "role")]
}

# Where the setting is flipped inside a pass, one pass a block holds all arms; it
# begins with the baseline.
toggled_sessions <- function(plan, schedule) {
  schedule[!schedule$workload %in% toggled_workloads(plan) | schedule$arm == plan$setting$baseline, , drop = FALSE]
}

plan_workloads <- function(plan) vapply(plan$workloads, `[[`, "", "id")
plan_contexts <- function(plan) if (is.null(plan$context)) NA_character_ else unlist(plan$context$levels)

# Within a block the contexts are gone through one after the other, since
# changing them may cost as much as changing the setting.
block_visits <- function(plan, arms, seed) {
  contexts <- plan_contexts(plan)
  order <- empty_to(plan$order, "shuffled")
  blocks <- empty_to(plan$blocks, 5)
  parts <- lapply(seq_along(contexts), function(c) {
    cbind(arm_schedule(arms, blocks, order, seed + 100 * (c - 1)), context = contexts[c], turn = c)
  })
  visits <- do.call(rbind, parts)
  turn <- if (order == "fixed") visits$turn else (visits$turn + visits$block) %% length(contexts)
  visits <- visits[order(visits$block, turn), c("block", "context", "arm")]
  visits$start <- seq_len(nrow(visits))
  visits
}

# An old state that cannot come back runs first, all of it; time and setting are
# then one thing, which only passes of an unchanged workload can take apart.
one_way_visits <- function(plan, arms) {
  arms <- c(plan$setting$baseline, setdiff(arms, plan$setting$baseline))
  blocks <- empty_to(plan$blocks, 5)
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

#' How long the schedule will take, in seconds
#' @noRd
schedule_seconds <- function(plan, schedule) {
  of <- function(key, default) {
    value <- vapply(plan$workloads, function(w) as.numeric(empty_to(w[[key]], default)), 1)
    stats::setNames(value, plan_workloads(plan))
  }
  pauses <- sum(vapply(plan$gates, function(g) as.numeric(empty_to(g$pause, 0)), 1))
  passes <- sum(of("seconds", 60)[schedule$workload] + of("settle", 0)[schedule$workload] + pauses)
  # a restart of a machine takes minutes; two is what is assumed and said
  passes + if (identical(plan$setting$restart, "machine")) 120 * max(schedule$start) else 0
}
