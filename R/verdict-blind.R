# Are two arms told apart by somebody who does not know which is which?

#' Judge blind pairs
#'
#' The exact binomial test of one half. A pair without a difference counts half for each; where that leaves half a pair,
#' it is taken from the side that is ahead, so that the test is never bolder than its level.
#' @param arm,baseline,none How often each was preferred, and neither.
#' @param confidence Of this one comparison.
#' @return A list: `n`, `share` (of pairs for `arm`), `lower`, `upper`, `p`, `verdict` (`"preferred"`,
#'   `"baseline preferred"`, `"unclear"`, `"no basis"`).
#' @references Clopper and Pearson (1934), Biometrika 26, 404-413; Roessler, Pangborn, Sidel and Stone (1978), Journal
#'   of Food Science 43, 940-943 (tables of paired preference).
#' @noRd
judge_pairs <- function(arm, baseline, none, confidence = 0.95) {
  n <- arm + baseline + none
  if (n == 0) {
    return(list(n = 0, share = NA_real_, lower = NA_real_, upper = NA_real_, p = NA_real_, verdict = "no basis"))
  }
  ahead <- arm + none / 2
  alpha <- 1 - confidence
  ends <- c(
    lower = share_limits(floor(ahead), n, alpha)$lower, upper = share_limits(ceiling(ahead), n, alpha)$upper
  )
  p <- pairs_p(max(floor(ahead), floor(n - ahead)), n)
  verdict <- if (p > alpha) "unclear" else if (ahead > n / 2) "preferred" else "baseline preferred"
  list(n = n, share = ahead / n, lower = ends[["lower"]], upper = ends[["upper"]], p = p, verdict = verdict)
}

# two-sided, of so many of n for the side that is ahead
pairs_p <- function(most, n) pmin(1, 2 * stats::pbinom(most - 1, n, 0.5, lower.tail = FALSE))

#' How many of n pairs have to go one way to tell two arms apart
#' @return `Inf` where not even all of them would do.
#' @noRd
pairs_needed <- function(n, confidence = 0.95) {
  most <- seq(0, n)
  enough <- most[most > n / 2 & pairs_p(most, n) <= 1 - confidence]
  if (length(enough)) enough[1] else Inf
}

#' The power of n pairs for an arm that is preferred in a share of them
#' @noRd
pairs_power <- function(n, share, confidence = 0.95) {
  vapply(n, function(one) {
    needed <- pairs_needed(one, confidence)
    if (!is.finite(needed)) 0 else stats::pbinom(needed - 1, one, share, lower.tail = FALSE)
  }, 1)
}

#' How many pairs would settle it
#' @param share Of pairs in which one side is preferred, or the other.
#' @return The fewest with that power; `Inf` from `most` on.
#' @noRd
pairs_to_settle <- function(share, confidence = 0.95, power = 0.8, most = 1000) {
  share <- max(share, 1 - share)
  if (!is.finite(share) || share < 0.51) {
    return(Inf)
  }
  n <- seq_len(most)
  enough <- which(pairs_power(n, share, confidence) >= power)
  if (length(enough)) n[enough[1]] else Inf
}
