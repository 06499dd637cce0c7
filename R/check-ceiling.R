# Passes held at a ceiling: the difference is hidden there, not absent.

#' Which arms are held, from the piles of their passes
#'
#' A steady scene piles up too, but its level moves with the run-to-run noise,
#' while a limit stays where it is; so the piles of an arm must agree in level. Frames that keep in phase with a clock
#' are held whatever their jitter. Where a limiter only delays each frame, either hardly any jitter is left of it, or
#' its frames show in three ways that nothing else moves them (`limit_on_their_own()`).
#' @param piles Data frame, one row per counted pass: `workload`, `segment`, `context`,
#'   `arm`, `pass`, and what `pile_of_frames()` says; ledgers of before version 7 know no more than `held`.
#' @return Data frame, one row per held arm: `workload`, `segment`, `context`, `arm`,
#'   `limit_ms`, `passes_held`, `passes`.
#' @noRd
find_ceilings <- function(piles) {
  piles <- with_columns(piles, own_frames)
  held <- lapply(split_in_order(
    seq_len(nrow(piles)), piles$workload, piles$segment, piles$context, piles$arm
  ), function(at) {
    p <- take_rows(piles, at)
    limit <- empty_to(limit_of_piles(p), limit_on_their_own(p))
    if (is.null(limit)) {
      return(NULL)
    }
    cbind(p[1, c("workload", "segment", "context", "arm")], limit, passes = nrow(p), row.names = NULL)
  })
  do.call(rbind, unname(held))
}

# passes in phase with a clock, or in piles so narrow and so alike as hardly a free scene is
limit_of_piles <- function(p) {
  alike <- p$held == 1 & (is.na(p$jitter) | p$jitter <= 0.003)
  if (isTRUE(mean(p$memory[alike]) > 0.6)) alike <- FALSE
  at_limit <- p$held == 2 | alike
  if (mean(at_limit) <= 0.5) {
    return(NULL)
  }
  level <- stats::median(p$level_ms[at_limit])
  apart <- max(abs(p$level_ms[at_limit] / level - 1))
  # a limiter that only delays lets frames lie as close as a very even scene does: it must be the same to a hair
  if (apart <= if (mean(p$held == 2) > 0.5) 0.003 else 0.0012) data.frame(limit_ms = level, passes_held = sum(at_limit))
}

# frames per second that limiters are set to and displays refresh at
usual_limits <- c(
  24, 25, 30, 40, 45, 48, 50, 59.94, 60, 70, 72, 75, 80, 85, 90, 100, 120, 144, 160, 165, 170, 175, 180, 200, 240, 250,
  280, 300, 320, 360, 400, 480, 500, 540, 1000
)

#' The limit of an arm whose frames are each on its own
#'
#' Scenes change, so frame times of a free pass are like those before them, and the means of its passes differ by more
#' than chance among their frames. Under a limiter that only delays, each frame wavers for itself: neighbours are not
#' alike, means of many in a row and of whole passes stray as far as chance lets them and no further, and all stand at
#' a rate that somebody would set.
#' @return `NULL`, or a data frame of one row: `limit_ms`, `passes_held`.
#' @noRd
limit_on_their_own <- function(p) {
  n <- sum(p$frames)
  if (anyNA(p$memory) || any(p$near < 0.75) || n < 1000) {
    return(NULL)
  }
  memory <- sum(p$frames * p$memory) / n
  wander <- sum(p$frames * p$wander) / n
  if (abs(memory) > 3.3 / sqrt(n) + 0.02 || wander > 1 + 3.3 * sqrt(2 * 16 / n) + 0.05) {
    return(NULL)
  }
  # a timer is not the same to the last digit from one start to the next
  variance <- (p$jitter * p$mean_ms)^2 / p$frames + (0.0002 * p$mean_ms)^2
  level <- sum(p$mean_ms / variance) / sum(1 / variance)
  if (sum((p$mean_ms - level)^2 / variance) > stats::qchisq(0.999, max(1, nrow(p) - 1))) {
    return(NULL)
  }
  tolerance <- min(0.005, max(0.0005, 3.3 * mean(p$jitter) / sqrt(n)))
  if (any(abs(1000 / level / usual_limits - 1) < tolerance)) data.frame(limit_ms = level, passes_held = nrow(p))
}

register("check", "ceiling", scope = "study", run = function(study) {
  ceilings <- study$ceilings
  if (is.null(ceilings)) {
    return(no_findings())
  }
  do.call(bind_findings, lapply(split_in_order(
    seq_len(nrow(ceilings)), ceilings$workload, ceilings$segment, ceilings$context
  ), function(at) {
    held <- take_rows(ceilings, at)
    arms <- arm_order(held$arm)
    new_finding(if (isTRUE(study$plan$setting$limits)) "note" else "warning", "ceiling",
      arms = arms, fps = 1000 / held$limit_ms[match(arms, held$arm)],
      held = sum(held$passes_held), of = sum(held$passes),
      workload = held$workload[1], segment = held$segment[1], context = held$context[1],
      arm = paste(arms, collapse = ", ")
    )
  }))
})
