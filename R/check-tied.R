# What changed along with the setting, or while the study ran: versions, power source, governor, heat.

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

# passes that begin warmer in one arm than in another are not alike
register("check", "heat", scope = "study", run = function(study) {
  do.call(bind_findings, lapply(c("processor", "graphics"), function(who) {
    rows <- study$readings[study$readings$metric == paste0(who, "_temperature_min"), , drop = FALSE]
    rows <- plain_table(rows[is_counted(rows) & is.na(rows$segment) & is.na(rows$part), , drop = FALSE])
    do.call(bind_findings, lapply(split_in_order(seq_len(nrow(rows)), rows$workload, rows$context), function(at) {
      heat_apart(rows[at, , drop = FALSE], who)
    }))
  }))
})

heat_apart <- function(rows, who) {
  each <- split(rows$value, factor(rows$arm, arm_order(rows$arm)))
  each <- each[lengths(each) >= 3]
  if (length(each) < 2) {
    return(NULL)
  }
  middle <- vapply(each, stats::median, 1)
  # degrees come in whole numbers, so passes of an arm may well be all alike
  p <- suppressWarnings(stats::kruskal.test(each)$p.value)
  apart <- diff(range(middle))
  if (apart >= 3 && (isTRUE(p < 0.01) || apart > 4 * max(vapply(each, function(v) diff(range(v)), 1)))) {
    new_finding("warning", "heat_apart",
      who = who, warm = names(middle)[which.max(middle)], warm_at = max(middle),
      cool = names(middle)[which.min(middle)], cool_at = min(middle), workload = rows$workload[1],
      context = rows$context[1]
    )
  }
}
