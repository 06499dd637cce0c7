# Arms that differ in more than one way: which attributes cannot be separated, and
# which verdicts that touches.

register("check", "attributes", scope = "plan", run = function(plan) tied_attributes(plan))

#' @param plan A plan, or what a table says of its arms (from `arms_described()`, with the baseline).
#' @noRd
tied_attributes <- function(plan) {
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
}

#' In what the arms of a table differ beside their name
#' @noRd
typed_attributes <- function(described, baseline) {
  if (is.null(described)) {
    return(NULL)
  }
  described$setting$baseline <- baseline
  table <- attribute_table(described)
  facts <- table[names(table) != "setting"]
  bind_findings(if (length(facts)) {
    new_finding("note", "arms_differ",
      attributes = paste0(names(facts), " (", vapply(facts, function(v) some_of(unique(v), 4), ""), ")")
    )
  }, tied_attributes(described))
}
