# Crashes and refusals are results: counted per workload and arm.

count_outcomes <- function(passes, planned = NULL) {
  arms <- arm_order(passes$arm, planned)
  grid <- expand.grid(arm = arms, workload = unique(passes$workload), stringsAsFactors = FALSE)[2:1]
  seen <- intersect(outcomes, passes$outcome)
  count <- function(keep) {
    mapply(
      function(w, a) sum(passes$workload == w & passes$arm == a & keep), grid$workload, grid$arm,
      USE.NAMES = FALSE
    )
  }
  counted <- passes$role == "counted"
  grid$passes <- count(rep(TRUE, nrow(passes)))
  for (outcome in union("ok", seen)) grid[[outcome]] <- count(counted & passes$outcome == outcome)
  grid$warm_up <- count(passes$role == "warm_up")
  grid$excluded <- count(passes$role == "excluded")
  grid
}
