# A machine that goes back to what it knows after a start that failed: the setting is no longer the one asked for.

register("check", "fell_back", scope = "study", run = function(study) {
  passes <- with_columns(study$passes, c("effective", "order", "context"))
  passes <- passes[order(passes$order), , drop = FALSE]
  wrong <- which(passes$outcome %in% "wrong_setting" & !is.na(passes$effective))
  before <- vapply(wrong, fall_before, 1L, effective = passes$effective)
  fell <- which(before > 0 & passes$outcome[pmax(before, 1)] %in% outcomes_down)
  do.call(bind_findings, lapply(split_in_order(fell, before[fell]), function(i) {
    at <- wrong[i]
    after <- passes[before[i[1]], ]
    new_finding("warning", "fell_back",
      passes = passes$pass[at], n = length(at), shown = unique(passes$effective[at]), after = after$pass,
      ended = after$outcome, workload = passes$workload[at[1]], context = passes$context[at[1]], arm = passes$arm[at[1]]
    )
  }))
})

# the last pass that showed something else, or nothing: those between may well have asked for what the machine fell
# back to
fall_before <- function(at, effective) max(0L, setdiff(seq_len(at - 1L), which(effective %in% effective[at])))
