# Arms that differ in more than one way: which attributes cannot be separated, and
# which verdicts that touches.

register("check", "attributes", scope = "plan", run = function(plan) {
  table <- attribute_table(plan)
  groups <- alias_groups(table)
  if (!length(groups)) {
    return(no_findings())
  }
  extra <- separating_arms(table)
  words <- apply(extra, 1, function(arm) paste(names(table), arm, collapse = ", "))
  pairs <- single_differences(table, plan_arms(plan))
  base <- which(plan_arms(plan) == plan$setting$baseline)
  do.call(bind_findings, lapply(groups, function(group) {
    touched <- plan_arms(plan)[rowSums(table[group] != table[rep(base, nrow(table)), group]) > 1]
    new_finding("warning", if (length(touched)) "attributes_touch" else "attributes",
      attributes = group, touched = touched, extra = unname(words),
      pairs = paste0(
        pairs$one, " against ", pairs$other, " (", pairs$attribute, ")"
      )[seq_len(nrow(pairs))], arm = paste(touched, collapse = ", ")
    )
  }))
})
