# How a pass moves along, against the other passes: the machine that throttles, two regimes, arms that fade.

#' Where a pass leaves the pace of the other passes
#'
#' What a scene is like is the same in all passes of it, so it is taken off. What is left of one pass is cut in two
#' where the halves differ most; a shift must stand out of what is left inside them, and of what the other passes show.
#' @param levels Matrix of paces, a row per pass. @param others A list, for each row the rows to hold it against.
#' @return Data frame, one row per pass: `part` (the first of the new pace), `shift` (logarithm of the frame time),
#'   `off` (how far it stands out, in standard errors).
#' @noRd
find_shifts <- function(levels, others) {
  level <- levels - column_medians(t(levels))
  n <- ncol(levels)
  cuts <- seq(4, n - 2)
  weight <- sqrt((cuts - 1) * (n - cuts + 1) / n)
  rows <- vapply(seq_len(nrow(level)), function(i) {
    left <- level[i, ] - column_medians(level[others[[i]], , drop = FALSE])
    # where to cut is told by the means, of which no part may count for too much
    held <- stats::quantile(left, c(0.1, 0.9), names = FALSE)
    sums <- cumsum(pmin(pmax(left, held[1]), held[2]))
    apart <- (sums[n] - sums[cuts - 1]) / (n - cuts + 1) - sums[cuts - 1] / (cuts - 1)
    cut <- cuts[which.max(abs(apart) * weight)]
    # how much and how surely, by the medians
    before <- left[seq_len(cut - 1)]
    after <- left[cut:n]
    middle <- c(stats::median(before), stats::median(after))
    noise <- stats::mad(c(before - middle[1], after - middle[2]), 0)
    error <- 1.25 * max(noise, 1e-4) * sqrt(1 / length(before) + 1 / length(after))
    c(part = cut, shift = diff(middle), off = abs(diff(middle)) / error)
  }, c(part = 0, shift = 0, off = 0))
  as.data.frame(t(rows))
}

register("check", "pace", scope = "study", run = function(study) {
  if (!NROW(study$pace)) {
    return(no_findings())
  }
  at <- match(study$pace$pass, study$passes$pass)
  known <- !is.na(at) & is.na(study$passes$part)[at] & lengths(study$pace$levels) > 0
  known[known] <- ran_well(study$passes)[at[known]]
  known[known] <- is_whole(study, study$passes[at[known], , drop = FALSE])
  passes <- study$passes[at[known], , drop = FALSE]
  pace <- study$pace[known, , drop = FALSE]
  do.call(bind_findings, lapply(split_in_order(seq_len(nrow(passes)), passes$workload, passes$context), function(i) {
    levels <- do.call(rbind, pace$levels[i])
    # a pace is a median, which jumps by the step that times are written in
    least <- max(log(1.02), 1.5 * log1p(coarsest_share(study, passes$pass[i])))
    if (length(i) >= 4) {
      odd <- shifted(passes[i, ], take_rows(pace, i), levels, least)
      bind_findings(
        odd, two_paced(passes[i, ], take_rows(pace, i), levels, odd$pass, least),
        fading(passes[i, ], levels, study$plan, least)
      )
    }
  }))
})

# a pass that was cut short, or ran on, shows another part of its scene: fewer frames in less time than the other
# passes, or more in more. One that throttles has fewer in the same time, or as many in more.
is_whole <- function(study, passes) {
  of <- function(metric) {
    value <- whole_values(study, metric)[passes$pass]
    value / stats::ave(value, paste(passes$workload, passes$context, passes$arm), FUN = stats::median)
  }
  frames <- of("frames")
  seconds <- of("seconds")
  !((frames < 0.9 & seconds < 0.9) | (frames > 1.1 & seconds > 1.1)) %in% TRUE
}

shifted <- function(passes, pace, levels, least) {
  # an arm may have a pace of its own; with few passes of it all stand together
  own <- lapply(passes$arm, function(arm) which(passes$arm == arm))
  others <- lapply(seq_along(own), function(i) {
    setdiff(if (length(own[[i]]) >= 4) own[[i]] else seq_along(own), i)
  })
  seen <- find_shifts(levels, others)
  usual <- vapply(others, function(f) stats::median(abs(seen$shift[f])), 1)
  odd <- seen$off > 6 & abs(seen$shift) > least & abs(seen$shift) > 3 * usual
  do.call(bind_findings, lapply(which(odd), function(i) {
    new_finding("warning", "shifted",
      at_s = pace$from_s[i] + (seen$part[i] - 1) * pace$part_s[i],
      percent = 100 * expm1(abs(seen$shift[i])), slower = seen$shift[i] > 0, workload = passes$workload[i],
      context = passes$context[i], pass = passes$pass[i], arm = passes$arm[i]
    )
  }))
}

# what an arm loses from the first third of its passes to the last, beyond what the baseline does
fading <- function(passes, levels, plan, least) {
  third <- pace_shares %/% 3
  fade <- rowMeans(levels[, pace_shares - seq_len(third) + 1]) - rowMeans(levels[, seq_len(third)])
  base <- passes$arm == plan$setting$baseline
  arms <- setdiff(arm_order(passes$arm), plan$setting$baseline)
  do.call(bind_findings, lapply(arms, function(arm) {
    own <- fade[passes$arm == arm]
    if (length(own) < 3 || sum(base) < 3) {
      return(NULL)
    }
    more <- stats::median(own) - stats::median(fade[base])
    # copies of one log fade alike to the last digit: no spread was measured, so nothing exceeds it
    spread <- max(stats::var(own), stats::var(fade[base]))
    if (abs(more) > least && spread > 1e-20 && isTRUE(stats::t.test(own, fade[base])$p.value < 0.001)) {
      new_finding("note", "fades",
        percent = 100 * expm1(abs(more)), slower = more > 0, arm_said = arm, base_said = plan$setting$baseline,
        workload = passes$workload[1], context = passes$context[1], arm = arm
      )
    }
  }))
}
