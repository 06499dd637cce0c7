# What a study says beyond single comparisons, in words.

#' @param x From `weigh_overall()`.
#' @return A named list of character vectors, one element a question that arises.
#' @noRd
overall_words <- function(x) {
  told <- labels_of(x)
  Filter(length, list(
    `Failed` = failed_arm_sentences(attr(x, "failed"), told),
    `Which could be best` = best_words(x$best, told, attr(x, "failed")), `Over all workloads` = unlist(lapply(
      each_row(x$overall), overall_sentence,
      told = told
    )),
    `The same in every context` = unlist(lapply(each_row(x$contexts), context_sentence, told = told)),
    `Along the setting` = c(
      unlist(lapply(each_row(x$trend), trend_sentence, told = told)),
      unlist(lapply(each_row(x$plateau), plateau_sentence, told = told))
    ),
    `Left out` = if (NROW(x$left_out)) {
      held <- paste(overall_place(x$left_out, told), collapse = "; ")
      paste0(held, words_of_ceiling)
    }
  ))
}

words_of_ceiling <- ": held at a ceiling, which hides what an arm could do"

overall_place <- function(rows, told) {
  place <- ifelse(is.na(rows$workload), "all workloads together", place_names(rows))
  paste0(place, ", ", metric_labels(rows$metric, told))
}

best_words <- function(best, told, failed) {
  if (is.null(best)) {
    return(NULL)
  }
  place <- overall_place(best, told)
  vapply(split(best, factor(place, unique(place))), function(set) {
    paste0(overall_place(set[1, ], told), ": ", best_set_words(set, told, failed), ".")
  }, "", USE.NAMES = FALSE)
}

best_set_words <- function(set, told, failed) {
  if (all(set$identical)) {
    return("all results are identical")
  }
  if (!any(set$known)) {
    return("these passes cannot tell arms apart")
  }
  out <- set[!set$could, , drop = FALSE]
  if (!nrow(out)) {
    return(paste0("any of ", list_words(arms_with_failures(set$arm, told, failed, TRUE)),
      " could be (nothing is ruled out)"))
  }
  behind <- vapply(seq_len(nrow(out)), function(i) {
    by <- show_change(out$at_least[i], out$scale[i], out$unit[i])
    behind <- arms_with_failures(out$by[i], told, failed, TRUE)
    paste0(arm_names(out$arm[i], told), " is not: at least ", sub("^[+]", "", by), " behind ", behind)
  }, "")
  left <- set$arm[set$could]
  paste0(list_words(arms_with_failures(left, told, failed, TRUE)), if (length(left) > 1) " could be; " else "; ",
    paste(behind, collapse = ", "))
}

range_of <- function(row, lower, upper) {
  shown_interval(data.frame(lower = row[[lower]], upper = row[[upper]], scale = row$scale, unit = row$unit))
}

overall_sentence <- function(row, told) {
  about <- paste0(
    if (!is.na(row$context)) paste0(row$context, ", "), metric_labels(row$metric, told), ", ", arm_names(row$arm, told),
    " against ", arm_names(row$baseline, told), ": "
  )
  alone <- row$alone[[1]]
  each <- paste0(alone$workload, " ", show_change(alone$change, row$scale, row$unit), collapse = ", ")
  these <- if (!is.na(row$lower)) paste0(" (", range_of(row, "lower", "upper"), ")")
  if (is.na(row$lower)) {
    return(paste0(
      about, "in these ", row$workloads, " workloads ", shown_change(row), " was measured, with no basis for more: ",
      "one pass of each, or one stint of each arm, does not show the noise that workloads share (", each, ")."
    ))
  }
  paste0(
    about, if (row$differ %in% "yes") paste0("the workloads disagree (", each, "); "),
    "in these ", row$workloads, " workloads ", shown_change(row), these, ", ",
    plain_answers[[row$verdict]],
    if (is.na(row$like_lower)) {
      "; two workloads say nothing of others"
    } else {
      paste0(
        "; in workloads like these ", range_of(row, "like_lower", "like_upper"), ", ",
        plain_answers[[row$like_verdict]],
        "; one more may lie at ", range_of(row, "next_lower", "next_upper")
      )
    },
    if (is.na(row$blocks)) "; noise that workloads share is assumed to be none", "."
  )
}

context_sentence <- function(row, told) {
  if (is.na(row$lower)) {
    return(paste0(
      overall_place(row[c("workload", "segment", "metric")], told), ", ", arm_names(row$arm, told), " against ",
      arm_names(row$baseline, told), ": the change in ", row$other, " was ", shown_change(row), " from that in ",
      row$context, "; no basis to tell whether it is the same."
    ))
  }
  paste0(
    overall_place(row[c("workload", "segment", "metric")], told), ", ", arm_names(row$arm, told), " against ",
    arm_names(row$baseline, told), ": the change in ", row$other, " is ",
    shown_change(row), " (", range_of(row, "lower", "upper"), ") from that in ", row$context,
    ", ", switch(row$verdict,
      negligible = "no difference worth having", unclear = "cannot tell whether it is the same", "it is not the same"
    ), "."
  )
}

trend_sentence <- function(row, told) {
  paste0(
    overall_place(row, told), ": ", shown_change(row), " per ",
    if (row$step == "doubling") paste("doubling of", told$setting) else paste(told$unit, told$setting), " (",
    range_of(row, "lower", "upper"), "), ", switch(row$verdict,
      gain = "it rises for the better", loss = "it goes for the worse", "no trend can be told"
    ), "."
  )
}

plateau_sentence <- function(row, told) {
  worth <- sub("^[+]", "", show_change(row$worth, row$scale, row$unit))
  bound <- if (!is.na(row$fails)) {
    paste0(
      "; ", arm_names(row$fails, told), " may be up to ", sub("^[+-]", "", show_change(row$bound, row$scale, row$unit)),
      " worse than ", arm_names(row$against, told)
    )
  }
  about <- paste0(overall_place(row, told), ": ")
  if (is.na(row$from)) {
    return(paste0(about, "not even the top value is shown to be as good as every other within ", worth, bound, "."))
  }
  from <- arm_names(row$from, told)
  paste0(about, "from ", from, " on, more brings nothing worth having (", worth, ")", bound, ".")
}

#' What the intervals hold for
#' @noRd
overall_footing <- function(x) {
  paste0(
    "Each question is a family of its own, at ", show_share(attr(x, "confidence")), ".",
    if (isTRUE(attr(x, "looks"))) " The study was looked at on the way, which these answers do not allow for."
  )
}
