# Passes with artefacts count, and that must be seen.

register("check", "artefacts", scope = "study", run = function(study) {
  passes <- study$passes[study$passes$role == "counted", , drop = FALSE]
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(passes)), passes$workload, passes$arm), function(at) {
    seen <- sum(passes$outcome[at] == "artefact")
    if (seen) {
      new_finding("warning", "artefacts",
        n = seen, of = length(at), workload = passes$workload[at[1]], arm = passes$arm[at[1]]
      )
    }
  }))
})
