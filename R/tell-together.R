# Claims of which all must hold, in words.

#' @param x From `weigh_together()`.
#' @return Character vector, one element an arm.
#' @noRd
together_words <- function(x) {
  told <- labels_of(x)
  rows <- plain_table(x)
  vapply(split(rows, factor(rows$arm, unique(rows$arm))), function(mine) {
    claimed <- mine[!duplicated(mine$metric), , drop = FALSE]
    said <- paste(ifelse(claimed$claim == "better", "better", "as good"), "in", metric_labels(claimed$metric, told))
    failing <- mine[!mine$holds %in% TRUE, , drop = FALSE]
    paste0(
      arms_with_failures(mine$arm[1], told, attr(x, "failed")), " against ", arm_names(mine$baseline[1], told), ": ",
        list_words(said),
      if (nrow(failing)) {
        paste0(": not shown; ", paste(vapply(each_row(failing), failing_claim, "", told = told), collapse = "; "))
      } else {
        paste0(": shown, in ", list_words(unique(place_names(mine))))
      }, "."
    )
  }, "", USE.NAMES = FALSE)
}

failing_claim <- function(row, told) {
  what <- paste0(place_names(row), ", ", metric_labels(row$metric, told))
  if (is.na(row$holds)) {
    return(paste0(what, " cannot be told", if (nzchar(row$why)) paste0(" (", row$why, ")")))
  }
  if (!is.finite(row$bound)) {
    return(paste(what, "does not hold"))
  }
  worst <- show_change(row$bound, row$scale, row$unit)
  paste0(what, " may be as far as ", worst, if (row$claim == "as_good") {
    paste0(" (worth ", sub("^[+]", "", show_change(row$worth, row$scale, row$unit)), ")")
  })
}

together_footing <- function(x) {
  paste0(
    "One-sided, at ", show_share(attr(x, "confidence")), if (attr(x, "arms") > 1) " over all arms",
    "; all claims of an arm must hold together, so none is adjusted for the others."
  )
}
