# A pass whose partner in its block was excluded or failed stands against nothing.

register("check", "partner", scope = "study", run = function(study) {
  passes <- study$passes[!is.na(study$passes$block) & study$passes$role != "warm_up", , drop = FALSE]
  baseline <- study$plan$setting$baseline
  do.call(bind_findings, lapply(split_in_order(
    seq_len(nrow(passes)), passes$workload, passes$context, passes$block
  ), function(at) {
    block <- take_rows(passes, at)
    base <- which(block$arm == baseline)
    if (!length(base) || any(ran_well(block)[base])) {
      return(NULL)
    }
    do.call(bind_findings, lapply(which(block$arm != baseline & ran_well(block)), function(i) {
      new_finding("warning", "alone",
        block = block$block[i], partner = paste0("pass ", block$pass[base[1]], " (", baseline, ")"),
        workload = block$workload[i], context = block$context[i], arm = block$arm[i], pass = block$pass[i]
      )
    }))
  }))
})
