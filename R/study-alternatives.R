# What the time of a plan would buy, spent otherwise.

#' Other plans for the same time
#'
#' Two arms, one primary metric, or another number of passes in each block, each with as many blocks as fit into the
#' time: the smallest change of the first primary metric that each would find four times in five.
#' @param plan A checked plan. @param budget Seconds; `NULL`: what the plan itself takes.
#' @param noise,remembered As in `plan_power()`.
#' @return Data frame, the plan itself first, then three others from the one that finds most: `what` (words), `blocks`,
#'   `passes`, `seconds` (`NA` where the plan does not say how long a pass takes), `finds` (of `metric`), `metric`,
#'   `scale`. `NULL` where nothing else can be planned.
#' @noRd
plan_alternatives <- function(plan, budget = NULL, noise = NULL, remembered = NULL) {
  arms <- length(plan$arms)
  if (arms < 2 || is_search(plan) || is_screen(plan) || plan$setting$one_way || length(toggled_workloads(plan))) {
    return(NULL)
  }
  schedule <- plan_schedule(plan)
  seconds <- schedule_seconds(plan, schedule)
  if (is.na(seconds) && !is.null(budget)) {
    abort_needed("how long is a pass?", todo = "add seconds: to each workload of the plan, or leave out the minutes")
  }
  # where nobody knows how long a pass takes, passes are what is spent
  cost <- function(other) {
    made <- plan_schedule(other)
    if (is.na(seconds)) nrow(made) else schedule_seconds(other, made)
  }
  budget <- empty_to(budget, cost(plan))
  first <- judged_metrics(plan)[1]
  row <- function(what, other) {
    found <- plan_power(other, noise, remembered = remembered)
    found <- found[match(first, found$metric), , drop = FALSE]
    made <- plan_schedule(other)
    data.frame(
      what = what, blocks = other$blocks, passes = nrow(made), seconds = schedule_seconds(other, made),
      finds = found$detectable, metric = first, scale = found$scale
    )
  }
  fitted <- function(other) {
    one <- two <- other
    one$blocks <- 2
    two$blocks <- 3
    each <- cost(two) - cost(one)
    other$blocks <- 2 + floor((budget - cost(one)) / each + 1e-9)
    if (other$blocks >= 2) other
  }
  others <- Filter(Negate(is.null), lapply(spent_otherwise(plan, first), fitted))
  others <- others[!vapply(others, function(other) same_plan(other, plan), NA)]
  rows <- stack_rows(Map(row, names(others), others))
  if (!NROW(rows) || is.na(row("", plan)$finds)) {
    return(NULL)
  }
  rows <- rows[!is.na(rows$finds), , drop = FALSE]
  rows <- rows[order(rows$finds), , drop = FALSE]
  out <- rbind(row("as planned", plan), utils::head(rows, 3))
  rownames(out) <- NULL
  out
}

# what a tester may do without, by what it is called
spent_otherwise <- function(plan, first) {
  arms <- length(plan$arms)
  with_arms <- function(n) {
    base <- vapply(plan$arms, function(a) a$value == plan$setting$baseline, NA)
    plan$arms <- c(plan$arms[base], utils::head(plan$arms[!base], n - 1))
    plan
  }
  alone <- plan
  alone$metrics <- Filter(function(m) m$id == first, plan$metrics)
  passes <- function(n) {
    plan$passes_per_block <- n
    plan
  }
  each <- list(plan)
  names(each) <- "as many blocks as fit"
  if (arms > 2) each[[paste("2 of", arms, "arms")]] <- with_arms(2)
  if (length(judged_metrics(plan)) > 1) each[[paste("judge", first, "alone")]] <- alone
  if (plan$passes_per_block > 1) each[["1 pass of each arm a block"]] <- passes(1)
  if (plan$passes_per_block == 1) each[["2 passes of each arm a block"]] <- passes(2)
  each
}

same_plan <- function(one, other) {
  one$blocks == other$blocks && one$passes_per_block == other$passes_per_block &&
    length(one$metrics) == length(other$metrics) && length(one$arms) == length(other$arms)
}
