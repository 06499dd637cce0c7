# Now against before: time and the setting are one thing, unless something says how far things move by themselves.

#' One cell, now against earlier studies
#'
#' With an anchor in every study: what its passes say of the same visit is taken out of each pass, and the means are
#' compared by Welch's t. Else, with two earlier studies or more: they differ among themselves by what days bring, and
#' a new one is predicted from them: `t(K - 1) s sqrt(1 + 1 / K)`. Else only a declaration that nothing else changed
#' makes passes comparable.
#' @param rows Data frame of counted passes: `study` (number, the last is now), `y`, `order`. @param anchor The same of
#'   the anchor, or `NULL`. @param steady `TRUE` where declared.
#' @return A list as `estimate()` gives, with `unit` and `said` (a code); or `why` (a code).
#' @noRd
estimate_against <- function(rows, anchor = NULL, steady = FALSE) {
  now <- max(rows$study)
  arm <- ifelse(rows$study == now, "now", "before")
  if (length(unique(arm)) < 2) {
    return(list(why = new_code("not_in_both")))
  }
  with_anchor <- if (!is.null(anchor)) visits_less_anchor(rows, anchor)
  if (!is.null(with_anchor)) {
    unit_arm <- ifelse(with_anchor$study == now, "now", "before")
    if (min(table(factor(unit_arm, c("now", "before")))) > 1) {
      found <- estimate_welch(with_anchor$y, unit_arm, with_anchor, "now", "before")
      found[c("n_arm", "n_baseline")] <- list(sum(arm == "now"), sum(arm == "before"))
      return(c(found, list(unit = "pass", said = new_code("against_anchor", moved = with_anchor$moved))))
    }
  }
  earlier <- tapply(rows$y[arm == "before"], rows$study[arm == "before"], mean)
  if (length(earlier) > 1) {
    return(predict_from(as.numeric(earlier), rows$y[arm == "now"], sum(arm == "before")))
  }
  if (!steady) {
    return(list(why = new_code("one_before")))
  }
  if (min(table(arm)) < 2) {
    return(list(why = new_code("one_pass_each")))
  }
  found <- estimate_welch(rows$y, arm, data.frame(arm = arm), "now", "before")
  c(found, list(unit = "pass", said = new_code("steady_days")))
}

predict_from <- function(earlier, now, passes) {
  k <- length(earlier)
  spread <- stats::sd(earlier)
  at <- function(n) list(se = spread * sqrt(1 + 1 / n), df = n - 1)
  c(
    list(
      estimate = mean(now) - mean(earlier), sd = spread, mean_arm = mean(now), mean_baseline = mean(earlier),
      n_arm = length(now), n_baseline = passes, at_size = at, units = k, have = k,
      unit = "study", said = new_code("against_days", n = k)
    ), at(k)
  )
}

# pass by pass, each less the anchor's pass that ran nearest to it in the same study; the anchor's mean before is put
# back, so that the level stays that of the workload
visits_less_anchor <- function(rows, anchor) {
  if (anyNA(rows$order) || anyNA(anchor$order) || !all(rows$study %in% anchor$study)) {
    return(NULL)
  }
  near <- rep(NA_integer_, length(rows$y))
  for (study in unique(rows$study)) {
    here <- which(anchor$study == study)
    of_study <- rows$study == study
    near[of_study] <- here[nearest_pass(rows$order[of_study], anchor$order[here])]
  }
  keep <- !is.na(near)
  now <- max(rows$study)
  before <- mean(anchor$y[anchor$study != now])
  list2DF(list(
    study = rows$study[keep], y = rows$y[keep] - anchor$y[near[keep]] + before,
    moved = rep(mean(anchor$y[anchor$study == now]) - before, sum(keep))
  ))
}
