# A pass that begins slower, or faster, than it goes on: loading, a menu, a cold start.

# one finding of a workload: the passes of all arms, or of some only
register("check", "loading", scope = "study", run = function(study) {
  loads <- study$captured[study$captured$code == "loads", , drop = FALSE]
  passes <- study$passes[study$passes$pass %in% with_frames(study) & ran_well(study$passes), , drop = FALSE]
  passes <- passes[!duplicated(passes$pass), , drop = FALSE]
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(passes)), passes$workload), function(at) {
    here <- passes[at, , drop = FALSE]
    found <- loads[loads$pass %in% here$pass, , drop = FALSE]
    if (nrow(found) >= max(2, 0.1 * nrow(here))) loading_finding(found, here)
  }))
})

loading_finding <- function(found, here) {
  number <- function(name) vapply(found$values, function(v) as.numeric(v[[name]]), 1)
  seconds <- number("seconds")
  by_arm <- tapply(here$pass %in% found$pass, here$arm, mean)
  # where every pass begins alike, no arm is favoured
  alike <- nrow(found) >= 0.9 * nrow(here) && max(seconds) <= 3 * min(seconds) + 0.3
  uneven <- length(by_arm) > 1 && max(by_arm) - min(by_arm) > 0.5
  new_finding(
    if (alike || !uneven) "note" else "warning", "loading",
    n = nrow(found), of = nrow(here), from = min(seconds), to = max(seconds), factor = stats::median(number("factor")),
    trim = ceiling(2 * max(seconds)) / 2, uneven = uneven, workload = here$workload[1]
  )
}

with_frames <- function(study) unique(study$readings$pass[study$readings$metric == "frames"])
