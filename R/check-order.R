# Does the order of the passes leave the arms apart from time?

#' Arms that run in the same order in every block
#'
#' Place and arm are one thing then, and no calculation parts them: with warming 8 to 27 % of
#' no-difference studies come out "different".
#' @param rows Counted passes of one cell, all arms: `order`, `arm`, `block` (where no pass has one, strictly
#'   alternating passes are pairs).
#' @return The block of each row, `NULL` where the order is not known, mixed, or of two blocks at most.
#' @noRd
fixed_rounds <- function(rows) {
  if (!length(rows$arm) || anyNA(rows$order)) {
    return(NULL)
  }
  by <- if (all(is.na(rows$block))) alternating_rounds(rows) else rows$block
  if (length(unique(stats::na.omit(by))) > 2 && same_order(rows, by)) by
}

#' What can be seen of a fixed order: how the blocks drift, one against the other
#' @param rows As before, with `y`. @param by From `fixed_rounds()`.
#' @return `NULL`, or a list: `code` (`order_drift` where the means of the blocks drift, else `order_fixed`), `slope` (a
#'   place, on the scale of analysis), `se`, `df`.
#' @noRd
fixed_order <- function(rows, by) {
  if (is.null(by)) {
    return(NULL)
  }
  drift <- drift_of_blocks(rows, by)
  moves <- drift$se > 0 && 2 * stats::pt(-abs(drift$slope / drift$se), drift$df) < 0.05
  blocks <- length(unique(stats::na.omit(by)))
  if (moves || blocks > 3) c(list(code = if (moves) "order_drift" else "order_fixed"), drift)
}

# A B C A B C ... without blocks is a fixed order too
alternating_rounds <- function(rows) {
  at <- order(rows$order)
  arms <- length(unique(rows$arm))
  round <- integer(nrow(rows))
  round[at] <- (seq_along(at) - 1) %/% arms
  whole <- tapply(rows$arm, round, function(a) length(unique(a)))
  if (all(whole[-length(whole)] == arms)) round
}

same_order <- function(rows, by) {
  blocks <- unique(by)
  arms <- unique(rows$arm)
  at <- cbind(match(by, blocks), match(rows$arm, arms))
  # the first pass of an arm in a block stands for its place there
  place <- matrix(NA_real_, length(blocks), length(arms))
  place[at[rev(seq_along(by)), , drop = FALSE]] <- rev(rows$order)
  if (ncol(place) < 2) {
    return(FALSE)
  }
  # in a mixed order one of the first pairs tells, so they are not all looked at
  for (i in seq_len(ncol(place) - 1)) {
    lead <- sign(place[, i] - place[, -seq_len(i), drop = FALSE])
    first <- lead[1, ]
    for (block in seq_len(nrow(lead))[-1]) {
      known <- is.na(first)
      first[known] <- lead[block, known]
      if (any(lead[block, ] != first, na.rm = TRUE)) {
        return(FALSE)
      }
    }
  }
  TRUE
}

# a straight drift of the block means: what blocks are like from one to the next is its error
drift_of_blocks <- function(rows, by) {
  y <- as.numeric(tapply(rows$y, by, mean))
  x <- as.numeric(tapply(rows$order, by, mean))
  x <- x - mean(x)
  df <- length(y) - 2
  slope <- sum(x * y) / sum(x^2)
  left <- y - mean(y) - slope * x
  se <- sqrt(sum(left^2) / df / sum(x^2))
  # blocks that lie in one another, or values without logarithms, show no drift
  if (is.finite(se)) list(slope = slope, se = se, df = df) else list(slope = 0, se = 0, df = max(1, df))
}

# The warning is about the passes, so it is told once for all metrics of them; a
# drift is of one metric.
problem_with_order <- function(counted, by, first, role) {
  seen <- fixed_order(counted, by)
  if (!is.null(seen)) {
    code <- seen$code
    list(
      severity = "warning", code = code, role = role, drift = seen[c("slope", "se", "df")],
      place = first[c("workload", "segment", "context")], metric = if (code == "order_drift") first$metric else NA
    )
  }
}

#' The findings on the order of passes, told once for all metrics that share one
#'
#' What blocks only exploratory comparisons is a note: nothing that was asked is blocked.
#' @param found List of what `problem_with_order()` found, one per comparison.
#' @noRd
order_findings <- function(found) {
  found <- Filter(length, found)
  key <- vapply(found, function(f) {
    paste(f$code, paste(f$place, collapse = "\r"), if (!is.na(f$metric)) f$role, sep = "\r")
  }, "")
  do.call(bind_findings, lapply(split(found, factor(key, unique(key))), function(same) {
    one <- same[[1]]
    metrics <- vapply(same, function(f) as.character(f$metric), "")
    drift <- !is.na(one$metric)
    severity <- if (drift && one$role == "exploratory") "note" else one$severity
    new_finding(severity, one$code,
      metrics = if (drift) metrics, workload = one$place$workload, segment = one$place$segment,
      context = one$place$context, metric = if (drift && length(same) == 1) one$metric else NA
    )
  }))
}
