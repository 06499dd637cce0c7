# What changed along with the setting, or while the study ran: versions, power source, governor.

register("check", "tied", scope = "study", run = function(study) {
  seen <- study$conditions
  if (!NROW(seen)) {
    return(no_findings())
  }
  # numbers (heat, load, free memory) are looked at for themselves
  seen <- seen[seen$words, , drop = FALSE]
  tied <- seen[seen$seen == "differs between arms" & !is_the_setting(seen, study$plan), , drop = FALSE]
  changed <- seen[seen$seen == "changed", , drop = FALSE]
  bind_findings(
    if (nrow(tied)) new_finding("warning", "tied", conditions = tied$condition, values = tied$values),
    if (nrow(changed)) new_finding("warning", "changed_amid", conditions = changed$condition, values = changed$values)
  )
})

# a driver's version differs between the arms where the driver is what is changed
is_the_setting <- function(seen, plan) {
  about <- words_in(c(plan$setting$name, names(plan$arms[[1]]$attributes)))
  # of two machines everything differs
  if (any(c("machine", "computer", "device", "laptop", "console", "host", "system") %in% about)) {
    return(rep(TRUE, nrow(seen)))
  }
  about <- setdiff(about[nchar(about) > 2], c("version", "variable"))
  vapply(seq_len(nrow(seen)), function(i) {
    each <- seen$each[[i]]
    any(about %in% words_in(seen$condition[i])) || all(mapply(function(arm, value) {
      all(words_in(arm) %in% words_in(value))
    }, names(each), each))
  }, NA)
}

words_in <- function(text) unlist(strsplit(tolower(text), "[^a-z0-9.]+"))
