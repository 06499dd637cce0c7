# Half of the passes move along otherwise than the rest: then no pass is odd, and the machine has two states.

#' Do the passes fall into two groups of another pace?
#'
#' The groups are those that the main component of what is left of the paces divides best. They count only where every
#' pass stands out against the other group (as in `find_shifts()`), in one direction, and by three times what it does
#' against its own.
#' @param levels Matrix of paces, a row per pass. @param least Smallest shift that counts, a logarithm.
#' @return `NULL`, or a list: `slower` (which rows take longer after the shift), `part` (the first of the new pace),
#'   `shift` (logarithm of the frame time, above 0).
#' @noRd
find_two_paces <- function(levels, least) {
  n <- nrow(levels)
  if (n < 4) {
    return(NULL)
  }
  level <- levels - column_medians(t(levels))
  score <- svd(sweep(level, 2, colMeans(level)), nu = 1, nv = 0)$u[, 1]
  rank <- order(score)
  gap <- diff(score[rank])[seq(2, n - 2)]
  upper <- seq_len(n) %in% rank[seq(which.max(gap) + 2, n)]
  rows <- seq_len(n)
  other <- find_shifts(levels, lapply(rows, function(i) which(upper != upper[i])))
  slower <- other$shift > 0
  one_way <- all(slower == upper) || all(slower != upper)
  if (!one_way || !all(other$off > 6, abs(other$shift) > least)) {
    return(NULL)
  }
  own <- find_shifts(levels, lapply(rows, function(i) setdiff(which(upper == upper[i]), i)))
  if (min(abs(other$shift)) > 3 * max(abs(own$shift))) {
    list(slower = slower, part = stats::median(other$part), shift = stats::median(abs(other$shift)))
  }
}

#' Arms whose passes have two paces, of those in which no single pass was told to leave it
#' @noRd
two_paced <- function(passes, pace, levels, labels, least) {
  # too few of each arm are looked at together; what correlates with the arm is no state of the machine
  few <- table(passes$arm)[passes$arm] < 4
  group <- ifelse(few, "", passes$arm)
  seen <- Filter(Negate(is.null), lapply(split(seq_along(group), factor(group, unique(group))), function(i) {
    found <- if (!any(passes$pass[i] %in% labels)) find_two_paces(levels[i, , drop = FALSE], least)
    by_arm <- if (!is.null(found)) table(passes$arm[i], found$slower)
    if (is.null(found) || (nrow(by_arm) > 1 && any(by_arm == 0))) {
      return(NULL)
    }
    list(
      arms = unique(passes$arm[i]), passes = passes$pass[i][found$slower], n = length(i), shift = found$shift,
      at_s = stats::median(pace$from_s[i] + (found$part - 1) * pace$part_s[i])
    )
  }))
  if (!length(seen)) {
    return(NULL)
  }
  of <- function(what) vapply(seen, `[[`, 1, what)
  new_finding("warning", "two_paces",
    groups = unname(lapply(seen, `[`, c("arms", "passes", "n"))), passes = unlist(lapply(seen, `[[`, "passes")),
    at_s = stats::median(of("at_s")), percent = 100 * expm1(stats::median(of("shift"))),
    workload = passes$workload[1], context = passes$context[1]
  )
}
