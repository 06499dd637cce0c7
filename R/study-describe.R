# What is known of the machines and arms of a study that is described.

# what a plan says of its machine and its arms, one fact a row
plan_facts <- function(plan) {
  if (is.null(plan)) {
    return(NULL)
  }
  one <- function(facts, arm) {
    data.frame(
      arm = rep(arm, length(facts)), fact = as.character(names(facts)),
      value = vapply(facts, fact_text, "", USE.NAMES = FALSE)
    )
  }
  stack_rows(c(
    list(one(c(plan$machine, plan$conditions), NA_character_)),
    lapply(plan$arms, function(a) one(a$attributes, a$value))
  ))
}

#' One arm only: nothing can be compared
#' @noRd
has_one_arm <- function(x) {
  arms <- unique(readings_of(x)$arm)
  if (is_study(x)) arms <- union(plan_arms(x$plan), unique(x$passes$arm))
  length(arms) < 2
}
