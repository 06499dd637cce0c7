# What changed along with the setting, or while the study ran: versions, power source, governor, heat.

register("check", "tied", scope = "study", run = function(study) {
  seen <- study$conditions
  if (!NROW(seen)) {
    return(no_findings())
  }
  # numbers (heat, load, free memory) are looked at for themselves
  seen <- seen[is_told_in_words(seen), , drop = FALSE]
  tied <- seen[seen$seen == "differs between arms" & !is_the_setting(seen, study$plan), , drop = FALSE]
  changed <- seen[seen$seen == "changed", , drop = FALSE]
  bind_findings(
    if (nrow(tied)) new_finding("warning", "tied", conditions = tied$condition, values = tied$values),
    if (nrow(changed)) new_finding("warning", "changed_amid", conditions = changed$condition, values = changed$values)
  )
})

# "one: 5.0; two: 5.1" of a version is words; of heat it is two medians
is_told_in_words <- function(seen) {
  seen$seen == "changed" | grepl("^(version|variable) ", seen$condition) |
    !grepl("^[^:]*: [-+0-9.e]+(; [^:]*: [-+0-9.e]+)*$", seen$values)
}

# a driver's version differs between the arms where the driver is what is changed
is_the_setting <- function(seen, plan) {
  # of two machines everything differs
  if (grepl("machine|computer|device|laptop|host|board|system", tolower(plan$setting$name))) {
    return(rep(TRUE, nrow(seen)))
  }
  words <- tolower(c(plan$setting$name, names(plan$arms[[1]]$attributes)))
  named <- vapply(tolower(seen$condition), function(key) {
    any(vapply(words, function(w) grepl(w, key, fixed = TRUE) || endsWith(key, w), NA))
  }, NA)
  labels <- plan_arms(plan)
  shown <- vapply(strsplit(seen$values, "; ", fixed = TRUE), function(each) {
    own <- sub(":.*", "", each)
    value <- sub("^[^:]*: ", "", each)
    all(own %in% labels) && all(mapply(grepl, own, value, fixed = TRUE))
  }, NA)
  named | shown
}

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
