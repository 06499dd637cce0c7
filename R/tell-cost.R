# What a metric costs, in words.

#' @param x From `weigh_cost()`.
#' @return Sentences.
#' @noRd
cost_words <- function(x) {
  told <- labels_of(x)
  c(failed_arm_sentences(attr(x, "failed"), told), unbeaten_sentences(x, told), most_sentences(x, told))
}

# where most is got for it
most_sentences <- function(x, told) {
  place <- place_names(x$arms[c("workload", "context")])
  vapply(split(x$arms, factor(place, unique(place))), function(rows) {
    top <- rows[which.max(rows$per), , drop = FALSE]
    paste0(
      place_names(top[c("workload", "context")]), ": most for its ", metric_labels(attr(x, "cost"), told), " gives ",
      arms_with_failures(top$arm, told, attr(x, "failed"), TRUE), ", ", show_number(top$per), " ", attr(x, "unit"), "."
    )
  }, "", USE.NAMES = FALSE)
}

unbeaten_sentences <- function(x, told) {
  place <- place_names(x$arms[c("workload", "context")])
  vapply(split(x$arms, factor(place, unique(place))), function(rows) {
    off <- rows[!rows$on, , drop = FALSE]
    about <- paste0(place_names(rows[1, c("workload", "context")]), ": ")
    if (!nrow(off)) {
      return(paste0(about, "no arm beats another in both, ", attr(x, "metric"), " and ", attr(x, "cost"), "."))
    }
    paste0(
      about, arm_list(off$arm, told), if (nrow(off) > 1) " are" else " is", " beaten in both by ",
      arm_list(unique(off$by), told), "; nothing beats ",
      list_words(arms_with_failures(rows$arm[rows$on], told, attr(x, "failed"), TRUE)), "."
    )
  }, "", USE.NAMES = FALSE)
}

#' What running costs, as a table for people
#' @noRd
running_shown <- function(x) {
  told <- labels_of(x)
  rows <- x$running
  out <- data.frame(
    workload = place_names(rows[c("workload", "context")]), arm = arm_names(rows$arm, told),
    `more a year` = show_change(rows$year, "absolute", "", (rows$year_upper - rows$year_lower) / 2),
    `lies in` = paste(show_change(rows$year_lower, "absolute"), "to", show_change(rows$year_upper, "absolute")),
    `paid back in` = vapply(each_row(rows), payback_words, ""), check.names = FALSE
  )
  if (all(out[["paid back in"]] == "")) out[["paid back in"]] <- NULL
  out
}

payback_words <- function(row) {
  if (is.na(row$years)) {
    return("")
  }
  if (row$extra <= 0) {
    return("not dearer to buy")
  }
  if (!is.finite(row$years)) {
    return("never")
  }
  paste0(
    show_number(row$years, 2), " years (", show_number(row$years_lower, 2),
    if (is.finite(row$years_upper)) paste(" to", show_number(row$years_upper, 2)) else " or more", ")"
  )
}

#' Value and cost of each arm as a table for people
#' @noRd
costs_shown <- function(x) {
  told <- labels_of(x)
  rows <- x$arms
  key <- function(t) paste(t$workload, t$context, t$arm, sep = "\r")
  ratio <- x$ratio[match(key(rows), key(x$ratio)), , drop = FALSE]
  out <- data.frame(
    workload = place_names(rows[c("workload", "context")]), arm = arm_names(rows$arm, told),
    value = show_number(rows$value), cost = show_number(rows$cost), per = show_number(rows$per),
    change = ifelse(is.na(ratio$lower), "", shown_interval(ratio)),
    `beaten by` = ifelse(rows$on, "", arm_names(rows$by, told)), check.names = FALSE
  )
  names(out)[3:5] <- c(attr(x, "metric"), attr(x, "cost"), attr(x, "unit"))
  out
}

costs_footing <- function(x) {
  paste0(
    "change: of ", attr(x, "unit"), " against ", arm_names(x$ratio$baseline[1], labels_of(x)), ", together at ",
    show_share(attr(x, "confidence")), ". beaten by: surely better in one and not worse in the other ",
    "(in ", attr(x, "metric"), ": by no more than its worth)."
  )
}
