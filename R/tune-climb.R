# Looking for the highest value that holds: what is known so far in, the next step out.

#' Rules of a climb
#'
#' Rungs are numbered from the start on, tests from light to heavy.
#' @param rungs,tests How many. @param repeats Rounds of all tests before a rung is believed.
#' @param down For each rung the one to step back to when it is the lowest that failed (0: below the start).
#' @param allowed Failures that a rung may have and still hold: at 0 one failure is enough.
#' @param pace `"step"` or `"halve"`. @param skipped Rungs that are passed over.
#' @param soak_test,soak_seconds The long test, and for how long in all; 0: none.
#' @param most_passes,most_seconds What may be spent.
#' @noRd
climb_rules <- function(rungs, tests, repeats = 2, allowed = 0, down = seq_len(rungs) - 1, pace = "step",
                        skipped = integer(), soak_test = tests, soak_seconds = 0, most_passes = Inf,
                        most_seconds = Inf) {
  list(
    rungs = rungs, tests = tests, repeats = repeats, allowed = allowed, down = down, pace = pace,
    open = !seq_len(rungs) %in% skipped, soak_test = soak_test, soak_seconds = soak_seconds,
    most_passes = most_passes, most_seconds = most_seconds
  )
}

#' The next step of a climb
#'
#' Climbs with one round of all tests a rung, never at or above a rung that failed, then steps back, repeats the rung
#' it stands on, and soaks there. Any failure of that rung makes it the lowest that failed, and the same begins anew.
#' @param steps List of vectors, one entry per pass that says something: `rung`, `test`, `held`, `seconds`, `soak`
#'   (whether it was part of a soak).
#' @return A list: `do` (`"try"`, `"soak"`, `"done"`), `rung` (to try, or where it ended; 0: nowhere), `test`, `why`
#'   (of `"done"`: `"found"`, `"start_fails"`, `"spent"`), `failed` (lowest rung that failed, or `NA`), `good` (highest
#'   below it that held one round; 0: none), `left` (seconds that a soak still needs).
#' @noRd
climb_next <- function(steps, rules) {
  n <- rules$rungs
  m <- rules$tests
  short <- !steps$soak
  held <- tabulate(((steps$rung - 1L) * m + steps$test)[steps$held & short], n * m)
  dim(held) <- c(m, n)
  rounds <- if (m == 1) held[1, ] else do.call(pmin, lapply(seq_len(m), function(i) held[i, ]))
  failed <- which(tabulate(steps$rung[!steps$held], n) > rules$allowed)
  lowest <- if (length(failed)) failed[1] else n + 1L
  below <- rules$open & seq_len(n) < lowest
  tested <- which(below & rounds > 0)
  good <- if (length(tested)) tested[length(tested)] else 0L
  at <- function(do, rung, test = NA_integer_, why = NA_character_, left = NA_real_) {
    list(
      do = do, rung = rung, test = test, why = why, left = left, failed = if (lowest > n) NA_integer_ else lowest,
      good = good
    )
  }
  step <- climb_step(steps, rules, held, rounds, lowest, below, good, at)
  spent <- length(steps$rung) >= rules$most_passes || sum(steps$seconds) >= rules$most_seconds
  if (step$do != "done" && spent) at("done", safe_rung(rules, lowest, below), why = "spent") else step
}

climb_step <- function(steps, rules, held, rounds, lowest, below, good, at) {
  try_rung <- function(rung) at("try", rung, which.min(held[, rung]))
  if (lowest == 1) {
    return(at("done", 0L, why = "start_fails"))
  }
  # the start stands for what is known to hold, and scores are compared with it
  if (rounds[1] < rules$repeats) {
    return(try_rung(1L))
  }
  above <- which(below & seq_along(below) > good)
  if (length(above)) {
    return(try_rung(if (rules$pace == "halve") above[(length(above) + 1) %/% 2] else above[1]))
  }
  rung <- safe_rung(rules, lowest, below)
  if (rounds[rung] < rules$repeats) {
    return(try_rung(rung))
  }
  left <- rules$soak_seconds - sum(steps$seconds[steps$soak & steps$rung == rung])
  if (left > 0) {
    return(at("soak", rung, rules$soak_test, left = left))
  }
  at("done", rung, why = "found")
}

# the safety distance below the lowest that failed, or the last rung where none did; the start at least
safe_rung <- function(rules, lowest, below) {
  furthest <- if (lowest <= rules$rungs) rules$down[lowest] else rules$rungs
  there <- which(below & seq_along(below) <= furthest)
  if (length(there)) there[length(there)] else 1L
}

#' For each rung the one to step back to
#'
#' @param values Numbers, or `NULL` where the values are none. @param distance How far; `NULL`: one rung.
#' @noRd
rungs_down <- function(values, n, distance = NULL) {
  if (is.null(distance) || is.null(values)) {
    return(seq_len(n) - 1L)
  }
  vapply(seq_len(n), function(i) {
    # 25.000000000000004 is 25
    far <- which(abs(values - values[i]) >= distance * (1 - 1e-9) & seq_len(n) < i)
    if (length(far)) max(far) else 0L
  }, 1L)
}

#' How long to soak without a failure to show that there are at most so many an hour
#' @return Hours. See `possible_rate()`.
#' @noRd
soak_hours <- function(at_most, confidence = 0.95) -log(1 - confidence) / at_most
