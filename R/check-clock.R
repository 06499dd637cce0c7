# Passes whose times cannot be right: one begins before the one before it was over.

register("check", "clock", scope = "study", run = function(study) {
  passes <- study$passes[!is.na(study$passes$order), , drop = FALSE]
  passes <- passes[order(passes$order), , drop = FALSE]
  passes <- passes[!duplicated(passes$pass), , drop = FALSE]
  begins <- stamp_seconds(passes$started)
  known <- is.finite(begins)
  passes <- passes[known, , drop = FALSE]
  begins <- begins[known]
  lasts <- empty_zero(passes$seconds)
  n <- length(begins)
  if (n < 2) {
    return(no_findings())
  }
  # stamps may be in whole seconds, and the time of a pass may hold what was before its first frame
  early <- begins[-n] + lasts[-n] - begins[-1]
  at <- which(early > 2)
  if (length(at)) {
    new_finding("warning", "overlap",
      pass_said = passes$pass[at[1] + 1], before = passes$pass[at[1]], seconds = early[at[1]], n = length(at)
    )
  }
})
