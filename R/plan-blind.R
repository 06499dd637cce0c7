# Blind pairs: what a plan must be for its tester not to know which arm runs.

#' @return Ids of the workloads whose pairs are judged blind.
#' @noRd
blind_workloads <- function(plan) {
  plan_workloads(plan)[vapply(plan$workloads, function(w) identical(w$judge, "blind"), NA)]
}

is_blind <- function(plan) length(blind_workloads(plan)) > 0

#' The same passes, with arms called by their place in the pair alone
#'
#' Passes of a blind plan have odd starts where they are the first of their pair, see `blind_schedule()`.
#' @param passes Rows with `start`, `role`, `arm`.
#' @noRd
hide_arms <- function(passes) {
  passes$arm <- ifelse(passes$role == "counted", c("second", "first")[1 + passes$start %% 2], "either")
  passes
}

#' Refuse what would tell the arms, or leaves nothing to judge
#' @noRd
assert_blind <- function(plan, where) {
  if (!is_blind(plan)) {
    return(invisible())
  }
  at <- where(paste0("workloads/", match(blind_workloads(plan)[1], plan_workloads(plan)), "/judge"))
  if (length(plan$arms) != 2 || is_search(plan)) {
    abort_input("blind pairs are of two arms", at, "give two arms, one study for each pair of them")
  }
  typed <- vapply(plan$workloads, function(w) is.null(w$command) && nrow(score_places(plan, w)) > 0, NA)
  tells <- c(
    "a setting by hand" = !is.null(plan$setting$by_hand) ||
      any(lengths(lapply(plan$arms, `[[`, "by_hand")) > 0),
    "a restart of the machine" = plan$setting$restart == "machine",
    "a read-back that you type" = isTRUE(plan$setting$read_back$typed), "numbers that you type" = any(typed),
    "an old state that cannot come back" = plan$setting$one_way,
    "a setting that is flipped inside the pass" = length(toggled_workloads(plan)) > 0,
    "a context" = !is.null(plan$context), "an order other than shuffled" = plan$order != "shuffled",
    "passes_per_block above 1" = plan$passes_per_block > 1, "drop_settled" = plan[["drop_settled"]]
  )
  if (any(tells)) {
    abort_input(
      paste0("blind pairs cannot have ", names(tells)[tells][1], ": it would tell the arms, or make no pairs"), at,
      "let commands do it, or leave judge: out"
    )
  }
  if (!sets_by_command(plan)) {
    abort_input("nothing puts the setting in place without you", at, "give the setting a command with {arm}")
  }
}

# by the setting's own command, or in that of every workload
sets_by_command <- function(plan) {
  named <- unlist(lapply(plan_arms(plan), function(arm) names(arm_settings(plan, arm))))
  of_arm <- paste0("{", c("arm", named), "}")
  each <- vapply(plan$workloads, function(w) {
    any(vapply(of_arm, function(word) any(grepl(word, unlist(w$command), fixed = TRUE)), NA))
  }, NA)
  !is.null(plan$setting$command) || all(each)
}
