# Searches on simulated parts whose rate of failures is known at every value.

#' One search
#' @param rate Failures an hour at each rung, under the heaviest test. @param load Share of that rate under each test.
#' @param seconds How long a pass of each test takes; a soak takes passes of the last one.
climb_once <- function(rate, rules, load = c(0.2, 1), seconds = c(60, 120)) {
  next_step <- honestmargin:::climb_next
  heaviest <- length(load)
  steps <- list(rung = integer(), test = integer(), held = logical(), seconds = numeric(), soak = logical())
  failed <- integer(rules$rungs)
  again <- FALSE
  n <- 0L
  repeat {
    now <- next_step(steps, rules)
    if (now$do == "done" || n == 400) break
    n <- n + 1L
    soak <- now$do == "soak"
    # a soak as one pass: what is left of it
    took <- if (soak) now$left else seconds[now$test]
    test <- if (soak) heaviest else now$test
    dies <- rexp(1, rate[now$rung] * load[test] / 3600)
    # at or beyond a value that had failed more often than allowed
    again <- again || any(failed[seq_len(now$rung)] > rules$allowed)
    failed[now$rung] <- failed[now$rung] + (dies <= took)
    steps$rung[n] <- now$rung
    steps$test[n] <- test
    steps$held[n] <- dies > took
    steps$seconds[n] <- min(dies, took)
    steps$soak[n] <- soak
  }
  heavy <- steps$rung == now$rung & steps$test == heaviest
  c(
    rung = now$rung, passes = n, failures = sum(!steps$held), hours = sum(steps$seconds) / 3600,
    at_hours = sum(steps$seconds[heavy]) / 3600, at_failed = sum(!steps$held[heavy]), again = again
  )
}

#' Many searches of one kind
#' @param factor By how much the rate of failures grows from one value to the next; the target lies at random between
#'   two of 13 values. @param target Failures an hour. @param soak In units of one over the target.
climb_many <- function(n, factor, allowed = 0, soak = 1, pace = "step", target = 2, rungs = 13) {
  rules <- honestmargin:::climb_rules(rungs, 2,
    allowed = allowed, soak_test = 2, soak_seconds = 3600 * soak / target, pace = pace
  )
  one <- function(i) {
    at <- runif(1, 2, rungs - 1)
    rate <- target * factor^(seq_len(rungs) - at)
    out <- climb_once(rate, rules)
    highest <- max(which(rate <= target))
    found <- if (out[["rung"]] > 0) rate[out[["rung"]]] else NA
    limit <- honestmargin:::possible_rate(out[["at_failed"]], out[["at_hours"]])$upper
    c(out, off = out[["rung"]] - highest, covered = found <= limit)
  }
  as.data.frame(t(vapply(seq_len(n), one, numeric(9))))
}
