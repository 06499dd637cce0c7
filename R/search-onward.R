# The next pass of a running search.

#' @return One row of passes, none where the search is over, or a code where the tester stopped it.
#' @noRd
next_of_search <- function(store) {
  search <- load_search(store)
  now <- search$now
  # what the tester asked for, and the comparison that has begun
  if (nrow(search$asked)) {
    return(search$asked[1, ])
  }
  open <- store_open(store)
  if (search$said$stop) {
    return(new_code("search_stopped"))
  }
  if (now$do != "done") {
    return(next_rung(store, open, now))
  }
  compare_found(store, search)
  open <- store_open(store)
  open <- open[!open$role %in% search_roles & open$arm %in% c(plan_arms(search$plan)[1], now$arm), , drop = FALSE]
  utils::head(open, 1)
}

# one that was planned before a kill is taken again, if it is still what comes next
next_rung <- function(store, open, now) {
  place <- list(batch = 1L, arm = now$arm, workload = now$workload, role = if (now$do == "soak") "soak" else "rung")
  there <- open$arm == place$arm & open$workload == place$workload & open$role == place$role
  if (any(there)) open[which(there)[1], ] else store_rung(store, place)
}

compare_found <- function(store, search) {
  plan <- search$plan
  now <- search$now
  if (now$why != "found" || now$rung < 2 || plan$blocks == 0 || now$arm %in% store_compared(store)) {
    return(invisible())
  }
  store_compare(store, compare_schedule(plan, c(plan_arms(plan)[1], now$arm)))
}

#' What the step before a pass of a search says beside the value: where the search stands
#' @noRd
search_facts <- function(store, pass) {
  now <- load_search(store)$now
  if (pass$role == "rung") {
    list(good = now$good_arm, failed = now$failed_arm)
  } else if (pass$role == "soak") {
    list(left = now$left)
  }
}

#' Why a pass of a search that ran to its end does not hold all the same, or says nothing yet
#' @param search From `load_search()`. @return A code, or `NULL`.
#' @noRd
failed_by_number <- function(search, pass) {
  step <- search$steps[match(pass$pass, search$steps$pass), , drop = FALSE]
  if (!is.na(step$metric) && !step$held %in% TRUE) {
    unit <- empty_to(described_metrics(search$plan)[[step$metric]]$unit, "")
    code <- if (is.na(step$held)) "not_clear" else "not_held"
    new_code(code, metric_said = step$metric, unit = unit, value = step$value, by = step$by, limit = step$limit)
  }
}
