# Which arms are as good as the best, in words.

#' @param x From `weigh_near()`.
#' @noRd
near_words <- function(x) {
  told <- labels_of(x)
  rows <- plain_table(x)
  chosen <- attr(x, "choice")
  places <- unique(place_names(rows))
  first <- if (is.na(chosen)) {
    paste0("No arm is shown to be as good as the best everywhere, within ", near_worth(rows), ".")
  } else {
    paste0(
      arm_names(chosen, told), " is the first that is as good as the best within ", near_worth(rows),
      if (length(places) > 1) paste0(" in all of ", some_of(places, 4)) else paste0(" in ", places), "."
    )
  }
  rest <- vapply(setdiff(attr(x, "order"), chosen), function(arm) {
    mine <- rows[rows$arm == arm, , drop = FALSE]
    where <- function(word) paste(unique(place_names(mine[mine$near == word, , drop = FALSE])), collapse = ", ")
    said <- c(
      if (any(mine$near == "no")) paste("further behind in", where("no")),
      if (any(mine$near == "unclear")) paste("cannot be told in", where("unclear")),
      if (all(mine$near == "yes")) if (arm %in% attr(x,
        "failed")$arm) "as good as the best, but failed" else "so is this"
    )
    paste0(arms_with_failures(arm, told, attr(x, "failed")), ": ", paste(said, collapse = "; "), ".")
  }, "")
  held <- attr(x, "left_out")
  c(first, unname(rest), if (NROW(held)) {
    paste0("Left out: ", paste(overall_place(held, told), collapse = "; "), words_of_ceiling, ".")
  })
}

near_worth <- function(rows) {
  one <- rows[!duplicated(rows$metric), , drop = FALSE]
  said <- sub("^[+]", "", show_change(one$worth, one$scale, one$unit))
  if (length(unique(said)) == 1) said[1] else list_words(paste(said, "of", one$metric))
}

#' As a table for people
#' @noRd
near_shown <- function(x) {
  told <- labels_of(x)
  rows <- plain_table(x)
  worst <- ifelse(is.na(rows$at_worst), "", ifelse(rows$at_worst <= 0, "ahead of all",
    paste0("up to ", sub("^[+]", "", show_change(signif(pmax(rows$at_worst, 0), 2), rows$scale, rows$unit)),
      " behind ", arm_names(
      rows$against, told
    ))
  ))
  data.frame(
    workload = place_names(rows), metric = metric_labels(rows$metric, told), arm = arm_names(rows$arm, told),
    `at worst` = worst, near = stay_words(rows$near), check.names = FALSE
  )
}

near_footing <- function(x) {
  paste0(
    "Each arm against every other, one-sided, together at ", show_share(attr(x, "confidence")),
    ". Preferred in this order: ", some_of(arm_names(attr(x, "order"), labels_of(x)), 8), "."
  )
}
