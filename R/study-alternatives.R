# What the time of a plan would buy, spent otherwise.

#' Other plans for the same time
#'
#' Two arms, one primary metric, or another number of passes in each block, each with as many blocks as fit into the
#' time: the smallest change of the first primary metric that each would find four times in five.
#' @param plan A checked plan. @param planned A list: `passes`, `seconds` and `power` of the plan itself.
#' @param budget Seconds; `NULL`: what the plan itself takes. @param noise,remembered As in `plan_power()`.
#' @return Data frame, the plan itself first, then three others from the one that finds most: `what` (words), `blocks`,
#'   `passes`, `seconds` (`NA` where the plan does not say how long a pass takes), `finds` (of `metric`), `metric`,
#'   `scale`. `NULL` where nothing else can be planned.
#' @noRd
plan_alternatives <- function(plan, planned, budget = NULL, noise = NULL, remembered = NULL) {
  if (length(plan$arms) < 2 || is_search(plan) || is_screen(plan) || plan$setting$one_way ||
    length(toggled_workloads(plan))) {
    return(NULL)
  }
  timed <- !is.na(planned$seconds)
  if (!timed && !is.null(budget)) {
    abort_needed("how long is a pass?", todo = "add seconds: to each workload of the plan, or leave out the minutes")
  }
  # where nobody knows how long a pass takes, passes are what is spent
  spent <- if (timed) "seconds" else "passes"
  budget <- empty_to(budget, planned[[spent]])
  first <- judged_metrics(plan)[1]
  row <- function(what, other, size, power) {
    found <- power[match(first, power$metric), , drop = FALSE]
    data.frame(
      what = what, blocks = other$blocks, passes = size[["passes"]], seconds = size[["seconds"]],
      finds = found$detectable, metric = first, scale = found$scale
    )
  }
  own <- row("as planned", plan, planned, planned$power)
  if (is.na(own$finds)) {
    return(NULL)
  }
  each <- spent_otherwise(plan, first)
  rows <- stack_rows(Map(function(what, other) {
    two <- size_of_plan(other, 2)
    more <- size_of_plan(other, 3) - two
    other$blocks <- 2 + floor((budget - two[[spent]]) / more[[spent]] + 1e-9)
    if (other$blocks >= 2 && !same_plan(other, plan)) {
      row(what, other, two + (other$blocks - 2) * more, plan_power(other, noise, remembered = remembered))
    }
  }, names(each), each))
  rows <- rows[!is.na(rows$finds), , drop = FALSE]
  if (!NROW(rows)) {
    return(NULL)
  }
  out <- rbind(own, utils::head(rows[order(rows$finds), , drop = FALSE], 3))
  rownames(out) <- NULL
  out
}

# passes and seconds of so many blocks; each further block takes as much as the one before
size_of_plan <- function(plan, blocks) {
  plan$blocks <- blocks
  schedule <- plan_schedule(plan)
  c(passes = nrow(schedule), seconds = schedule_seconds(plan, schedule))
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
