# The short words in the column `reason`.

join_reasons <- function(...) {
  words <- c(...)
  paste(words[!is.na(words) & nzchar(words)], collapse = "; ")
}

# A verdict on the passes that survived must say that others did not.
failure_words <- function(cell, arm, baseline) {
  if (all(cell$outcome %in% c("ok", "artefact"))) {
    return("")
  }
  words <- vapply(c(arm, baseline), function(a) {
    mine <- cell[cell$arm == a & cell$role == "counted", , drop = FALSE]
    bad <- mine$outcome[!mine$outcome %in% c("ok", "artefact")]
    if (!length(bad)) {
      return("")
    }
    kinds <- table(bad)
    paste0(
      length(bad), " of ", nrow(mine), " passes of ", a, " failed (",
      paste0(names(kinds), if (length(kinds) > 1) paste0(" ", kinds), collapse = ", "), ")"
    )
  }, "")
  join_reasons(words)
}

design_words <- function(design, stored, first) {
  switch(design$kind,
    stints = if (design$returned) {
      "one return to the first arm: a step between stints would count as the setting"
    } else {
      "steadiness declared, straight drift taken out"
    },
    single = paste0("noise not measured here but taken from ", stored_noise(stored, first)$source),
    ""
  )
}

# The warning is about the passes, so it is told once for all metrics of them.
problem_with_order <- function(counted, first) {
  if (!nrow(counted)) {
    return(NULL)
  }
  found <- fixed_order(counted, if (!all(is.na(counted$block))) counted$block)
  if (is.null(found)) {
    return(NULL)
  }
  new_finding(found$severity, "order", found$message, found$todo,
    workload = first$workload,
    context = first$context, metric = if (found$severity == "blocking") first$metric else NA
  )
}

#' The findings on the order of passes, told once for all metrics that share one
#'
#' What blocks only exploratory comparisons is a note: nothing that was asked is blocked.
#' @param found Data frame of findings with the `role` of their comparison, or `NULL`.
#' @noRd
order_findings <- function(found) {
  if (is.null(found)) {
    return(no_findings())
  }
  key <- paste(found$message, found$workload, found$context, ifelse(is.na(found$metric), "", found$role), sep = "\r")
  do.call(bind_findings, lapply(split(found, factor(key, unique(key))), function(same) {
    one <- same[1, finding_columns]
    if (!is.na(one$metric)) {
      if (same$role[1] == "exploratory") one$severity <- "note"
      one$message <- paste0(one$message, " (", some_of(same$metric), ")")
      if (nrow(same) > 1) one$metric <- NA_character_
    }
    one
  }))
}
