# The whole distribution of frame times: the change at each percentile, with a band that holds for all of them.

# shares of frames that are no longer; close together where the slow ones are
profile_shares <- function() c(seq(0.01, 0.98, 0.01), seq(0.985, 0.995, 0.005), 0.997, 0.998, 0.999)

# the few that are looked at where each needs a share of the level
few_shares <- c(0.05, 0.25, 0.5, 0.75, 0.9, 0.95, 0.99, 0.999)

#' Percentiles of the frame times of one pass, off by at most 0.1 %
#' @noRd
frame_profile <- function(frame_time_ms) histogram_quantiles(frame_time_ms, profile_shares(), 0.001)

#' A band around the mean of differences that holds at all percentiles together
#'
#' From six blocks on by turning blocks round: under every choice of signs of what is left of each block, the largest
#' absolute t over the percentiles; its quantile is the width of the band (4.5 % false with ten blocks). Where there are
#' fewer blocks, Sidak over the percentiles, of which only a few are looked at (2.7 % with five). A bootstrap of
#' blocks misses 34 % with five and 16 % with ten.
#' @param d Matrix of differences of log percentiles, blocks by percentiles. @param alpha Level of the whole band.
#' @param most How many choices of signs are drawn where there are more. @param looks `TRUE` where somebody looked
#'   before all blocks had run: each percentile then has its share of the evidence that is asked for (see
#'   `estimate_looks()`), and until enough blocks have run the band is endless.
#' @return A list: `mean`, `lower`, `upper` (at each percentile), `by` (`turned`, `each` or `looks`).
#' @references Westfall and Young (1993), Resampling-based multiple testing; Romano (1990), Journal of the American
#'   Statistical Association 85, 686-692 (tests by signs).
#' @noRd
profile_band <- function(d, alpha, most = 10000, looks = FALSE) {
  n <- nrow(d)
  mean <- colMeans(d)
  left <- d - rep(mean, each = n)
  se <- sqrt(colSums(left^2) / (n - 1) / n)
  turned <- !looks && can_turn(n, alpha)
  width <- if (looks) {
    look_critical(n, ncol(d) / alpha)
  } else if (turned) {
    maxima <- sort(turned_maxima(left, all_turns(n, most)))
    maxima[ceiling((1 - alpha) * length(maxima))]
  } else {
    t_reach(1 - (1 - alpha)^(1 / ncol(d)), n - 1)
  }
  by <- if (looks) "looks" else if (turned) "turned" else "each"
  c(list(mean = mean, by = by), interval_about(mean, width * se))
}

# enough blocks that some choice of signs is as rare as the level
can_turn <- function(n, alpha) n >= 6 && alpha * 2^(n - 1) >= 1

# every way to turn blocks round, up to turning all of them; drawn where there are too many
all_turns <- function(n, most) {
  if (2^(n - 1) <= most) {
    return(cbind(1, as.matrix(expand.grid(rep(list(c(1, -1)), n - 1)))))
  }
  seeded(11, rbind(1, matrix(sample(c(1, -1), n * (most - 1), replace = TRUE), ncol = n)))
}
