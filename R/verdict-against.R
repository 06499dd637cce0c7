# Now against before: time and the setting are one thing, unless something says how far things move by themselves.

#' One cell, now against earlier studies
#'
#' With an anchor in every study: what its passes say of the same visit is taken out of each pass, and the means are
#' compared by Welch's t. Else, with two earlier studies or more: they differ among themselves by what days bring, and
#' a new one is predicted from them: `t(K - 1) s sqrt(1 + 1 / K)`. Where the memory of the machine knows better how far
#' studies lie apart (more degrees of freedom), that is taken for `s`, one earlier study suffices, and passes fewer than
#' those behind it widen the interval by their own noise. Else only a declaration that nothing else changed makes passes
#' comparable.
#' @param rows Data frame of counted passes: `study` (number, the last is now), `y`, `order`. @param anchor The same of
#'   the anchor, or `NULL`. @param steady `TRUE` where declared. @param days From `spread_of_days()`, or `NULL`.
#' @param apart The same of the workload less the anchor.
#' @return A list as `estimate()` gives, with `unit` and `said` (a code); or `why` (a code).
#' @noRd
estimate_against <- function(rows, anchor = NULL, steady = FALSE, days = NULL, apart = NULL,
                             alpha = 0.05) {
  now <- max(rows$study)
  arm <- ifelse(rows$study == now, "now", "before")
  if (length(unique(arm)) < 2) {
    return(list(why = new_code("not_in_both")))
  }
  passes <- c(sum(arm == "now"), sum(arm == "before"))
  with_anchor <- if (!is.null(anchor)) visits_less_anchor(rows, anchor)
  if (!is.null(with_anchor)) {
    unit_arm <- ifelse(with_anchor$study == now, "now", "before")
    if (min(table(factor(unit_arm, c("now", "before")))) > 1) {
      found <- estimate_welch(with_anchor$y, unit_arm, "now", "before", alpha, passes)
      return(c(with_days(found, apart, length(unique(rows$study)) - 1), list(unit = "pass")))
    }
  }
  earlier <- split(rows$y[arm == "before"], rows$study[arm == "before"])
  if (!steady && !is.null(days) && days$df > length(earlier) - 1) {
    return(predict_by(days, earlier, rows$y[arm == "now"]))
  }
  if (length(earlier) > 1) {
    return(predict_from(vapply(unname(earlier), mean, 1), rows$y[arm == "now"], sum(arm == "before")))
  }
  if (!steady) {
    return(list(why = new_code("one_before")))
  }
  if (min(table(arm)) < 2) {
    return(list(why = new_code("one_pass_each")))
  }
  found <- estimate_welch(rows$y, arm, "now", "before", alpha)
  c(found, list(unit = "pass", said = new_code("steady_days")))
}

predict_from <- function(earlier, now, passes) {
  k <- length(earlier)
  spread <- stats::sd(earlier)
  c(
    new_estimate(
      estimate = mean(now) - mean(earlier), se = spread * sqrt(1 + 1 / k), df = k - 1, sd = spread,
      mean_arm = mean(now), mean_baseline = mean(earlier), n_arm = length(now), n_baseline = passes, units = k,
      have = k, fixed = spread^2, each = spread^2, df_fixed = -1, df_each = 1
    ), list(unit = "study", said = new_code("against_days", n = k))
  )
}

predict_by <- function(days, earlier, now) {
  k <- length(earlier)
  # what a mean of fewer passes than the memory's varies by more
  more <- function(n) days$pass^2 * max(0, 1 / n - 1 / days$passes)
  fixed <- days$sd^2 + more(length(now))
  each <- days$sd^2 + mean(vapply(lengths(earlier), more, 1))
  before <- mean(vapply(earlier, mean, 1))
  c(
    new_estimate(
      estimate = mean(now) - before, se = sqrt(fixed + each / k), df = days$df, sd = days$sd, mean_arm = mean(now),
      mean_baseline = before, n_arm = length(now), n_baseline = sum(lengths(earlier)), units = k, have = k,
      fixed = fixed, each = each, df_fixed = days$df
    ), list(unit = "study", said = new_code("against_memory", levels = level_count(days)))
  )
}

# two at least
level_count <- function(days) paste(days$levels, if (days$one_day) "other studies" else "other days")

#' What the anchor does not take out: how far the workload moves against it from study to study
#'
#' A difference of two studies then varies as earlier ones did, with their degrees of freedom. (Added to what passes
#' tell by Satterthwaite's rule, three earlier studies gave 8 to 10 % false.)
#' @param found From `estimate_welch()`. @param days `NULL`: not known, which is said; so few that they would decide
#'   alone are left out. @param k Earlier studies.
#' @noRd
with_days <- function(found, days, k) {
  if (is.null(days) || days$df < 3) {
    found$said <- new_code("against_anchor")
    return(found)
  }
  found$least_se <- days$sd * sqrt(1 + 1 / k)
  found$most_df <- days$df
  found$se <- max(found$se, found$least_se)
  found$df <- min(found$df, found$most_df)
  found$said <- new_code("against_anchor_memory", levels = level_count(days))
  found
}

# pass by pass, each less the anchor's pass that ran nearest to it in the same study; the anchor's mean before is put
# back, so that the level stays that of the workload
visits_less_anchor <- function(rows, anchor) {
  if (anyNA(rows$order) || anyNA(anchor$order) || !all(rows$study %in% anchor$study)) {
    return(NULL)
  }
  near <- anchors_beside(rows$study, rows$order, anchor$study, anchor$order)
  keep <- !is.na(near)
  before <- mean(anchor$y[anchor$study != max(rows$study)])
  list2DF(list(study = rows$study[keep], y = rows$y[keep] - anchor$y[near[keep]] + before))
}
