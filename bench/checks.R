# What the checks find and how often they are wrong: Rscript bench/checks.R 2000, written to docs/checks.md
suppressMessages(library(honestmargin))
source("bench/corpus.R")
n <- as.integer(c(commandArgs(trailingOnly = TRUE), 400)[1])
future::plan("multicore", workers = parallel::detectCores())
many <- function(n, one) mean(unlist(future.apply::future_lapply(seq_len(n), function(i) one(), future.seed = 77)))
rows <- list()
line <- function(check, what, wanted, found, times = n) {
  error <- sqrt(max(found * (1 - found), 1 / times) / times)
  rows[[length(rows) + 1]] <<- sprintf(
    "| %s | %s | %s | %.1f (%.1f) |", check, what, wanted, 100 * found, 100 * error
  )
  message(rows[[length(rows)]])
}

# a real neighbour on this machine, one pass after the other, before anything else runs
beside <- function(duty, times) vapply(seq_len(times), function(i) others_beside(duty, 2), 1)
trials <- min(30, ceiling(n / 20))
line("other load", "none: this machine as it is (real)", "at most 1", mean(beside(0, trials) >= 0.18), trials)
for (duty in c(0.1, 0.25, 0.5)) {
  line("other load", sprintf("a real neighbour takes %g %% of a processor", 100 * duty),
    if (duty >= 0.25) "at least 95" else "", mean(beside(duty, trials) >= 0.18), trials
  )
}

# loading
starts <- function(x) inside$find_loading(x)
line("loading", "none: 20 to 60 s, 20 to 1000 fps, jitter 0.2 to 20 %", "at most 1", many(n, function() {
  !is.null(starts(free_pass(between(20, 60), 1000 / log_between(20, 1000), log_between(0.002, 0.2))))
}))
for (seconds in c(0.5, 1, 2, 5, 20)) {
  line("loading", sprintf("%g s at 1.5 to 5 times the usual frame time", seconds), "at least 95", many(n, function() {
    x <- loading_pass(
      seconds, between(1.5, 5), max(30, 2 * seconds), 1000 / log_between(20, 500), log_between(0.002, 0.15)
    )
    found <- starts(x)
    !is.null(found) && abs(found$seconds - seconds) < max(0.6, 0.3 * seconds)
  }))
}
line("loading", "2 s of a menu, 1.5 to 5 times as fast", "", many(n, function() {
  x <- loading_pass(2, 1 / between(1.5, 5), 40, 1000 / log_between(20, 200), log_between(0.002, 0.15))
  !is.null(starts(x))
}))

# a limiter, for an arm of five passes
held <- function(passes) {
  piles <- do.call(rbind, lapply(passes, function(x) as.data.frame(as.list(inside$pile_of_frames(x)))))
  places <- data.frame(workload = "w", segment = NA, context = NA, arm = "a", pass = seq_along(passes))
  !is.null(inside$find_ceilings(cbind(places, piles)))
}
five <- function(one, noise = 0.004) lapply(exp(stats::rnorm(5, sd = noise)), one)
arm_free <- function(jitter, ..., noise = 0.004) {
  mean_ms <- 1000 / log_between(20, 300)
  five(function(level) free_pass(20, level * mean_ms, jitter, ...), noise)
}
arm_limited <- function(phase, share, jitter, heavy = FALSE) {
  limit <- 1000 / sample(limits_hz, 1)
  five(function(level) {
    # heavy: one frame in fifty takes longer than a period
    work <- level * limit * if (heavy) exp(stats::rnorm(4000, log(0.55), 0.3)) else stats::runif(4000, 0.3, 0.9)
    work <- work[cumsum(pmax(work, limit)) < 20000]
    limited_pass(work, limit, phase, jitter, share)
  })
}
for (jitter in c(0.002, 0.02, 0.1)) {
  for (phase in c(TRUE, FALSE)) {
    kind <- if (phase) "keeps its phase" else "only delays"
    line("ceiling", sprintf("limiter that %s, 20 s, jitter %g %% of the period", kind, 100 * jitter), "at least 99",
      many(n / 4, function() held(arm_limited(phase, 1, jitter))), n / 4
    )
  }
}
line("ceiling", "held for 60 % of the time, jitter 2 %", "at least 99",
  many(n / 4, function() held(arm_limited(TRUE, 0.75, 0.02))), n / 4
)
line("ceiling", "with missed periods", "at least 99",
  many(n / 4, function() held(arm_limited(TRUE, 1, 0.02, heavy = TRUE))), n / 4
)
for (share in c(0.1, 0.3)) {
  line("ceiling", sprintf("on a busy machine, frames late together for %g %% of the time", 100 * share), "at least 99",
    many(n / 4, function() {
      limit <- 1000 / sample(limits_hz, 1)
      held(five(function(level) busy_pass(limit, 20, share)))
    }), n / 4
  )
}
for (jitter in c(0.002, 0.01, 0.05, 0.2)) {
  line("ceiling", sprintf("none: a free scene with jitter %g %%, passes that differ by 0.4 %%", 100 * jitter),
    "at most 0.5", many(n / 4, function() held(arm_free(jitter))), n / 4
  )
}
# no scene is like that: what it would cost if one were
for (jitter in c(0.05, 0.2)) {
  line("ceiling", sprintf("none: jitter %g %%, each frame on its own, passes that differ by 0.4 %%", 100 * jitter), "",
    many(n / 4, function() held(arm_free(jitter, memory = 0))), n / 4
  )
}
line("ceiling", "none: jitter 0.5 %, passes that differ by 0.05 % only", "at most 0.5",
  many(n / 4, function() held(arm_free(0.005, noise = 0.0005))), n / 4
)

# times written coarsely
line("resolution", "none: written in microseconds", "", many(n, function() {
  x <- free_pass(10, 1000 / log_between(20, 1000), log_between(0.002, 0.2))
  !is.null(inside$find_coarse_step(diff(round(cumsum(x) * 1000)) / 1000))
}))
line("resolution", "written in milliseconds, 60 to 1000 fps", "", many(n, function() {
  x <- free_pass(10, 1000 / log_between(60, 1000), log_between(0.02, 0.2))
  !is.null(inside$find_coarse_step(diff(round(cumsum(x)))))
}))

# an odd pass, in a study of 4 arms, 5 blocks and 5 judged places
odd <- function(widths) {
  arm <- rep(letters[1:4], 5)
  block <- rep(as.character(1:5), each = 4)
  any(vapply(1:5, function(cell) {
    y <- stats::rnorm(20) + rep(stats::rnorm(5), each = 4)
    if (cell == 1) y[7] <- y[7] + widths
    min(inside$outlying(y, arm, block)$p, na.rm = TRUE) < 0.01 / 100
  }, NA))
}
line("odd pass", "none", "", many(n, function() odd(0)))
for (widths in c(3, 5, 8, 12, 20)) {
  line("odd pass", sprintf("one pass %g noise widths away", widths), "", many(n, function() odd(widths)))
}

# a pass that leaves the pace of the other passes, in a study of four arms and five blocks
line("pace", "none: 20 to 60 s, 20 to 500 fps, jitter 0.5 to 20 %", "", many(n / 10, function() {
  length(unlist(paced_study())) > 0
}), n / 10)
for (factor in c(1.03, 1.05, 1.1, 1.3)) {
  for (jitter in c(0.01, 0.05, 0.2)) {
    line("pace", sprintf("one pass %g %% slower from its middle on, jitter %g %%", 100 * (factor - 1), 100 * jitter),
      "", many(n / 10, function() "p07" %in% paced_study(factor, jitter)$alone), n / 10
    )
    line("pace", sprintf("two of five passes %g %% slower from their middle on, jitter %g %%",
      100 * (factor - 1), 100 * jitter
    ), "", many(n / 10, function() "p07" %in% paced_study(factor, jitter, 5:12)$halves), n / 10)
  }
}

# an arm that is unsteady, of four arms with six passes
uneven <- function(times) {
  rows <- data.frame(
    arm = rep(letters[1:4], 6), scale = "absolute", metric = "m", workload = "w", segment = NA, context = NA
  )
  rows$value <- stats::rnorm(24) * ifelse(rows$arm == "b", times, 1)
  NROW(inside$uneven_arms(rows, 0.005 / 4)) > 0
}
line("unequal", "none", "", many(n, function() uneven(1)))
for (times in c(3, 5, 10, 20)) {
  line("unequal", sprintf("passes of one arm vary %g times as much", times), "", many(n, function() uneven(times)))
}

# all checks at once, on whole studies
studies <- ceiling(n / 10)
seen <- future.apply::future_lapply(seq_len(studies), function(i) faultless_study(), future.seed = 78)
line("all", "none: 2 to 4 arms, 4 to 6 blocks, shuffled", "at most 5", mean(lengths(seen) > 0), studies)
message(paste(names(table(unlist(seen))), table(unlist(seen)), collapse = ", "))
writeLines(c(
  "# What the checks see", "",
  paste0(
    "Made-up passes with known faults, drawn from ranges by seeds that the tests do not use (bench/corpus.R), ", n,
    " a line (a quarter of that where a line is an arm of five passes, a tenth where it is a study); made by `make calibrate`, never typed. ",
    "Told: in how many of 100 the check says so, with its Monte Carlo standard error. Of a fault that is found the check must ",
    "also be near its true length."
  ), "",
  "| check | passes | wanted, % | told, % |", "| --- | --- | --- | --- |", unlist(rows), "",
  paste(
    "Where it is weak, and known to be: a limiter that only delays (each frame waits for so long after the last one, so",
    "no phase is kept) is known by a jitter of at most 0.3 % in passes that agree within 0.12 %, or by frames that are each",
    "on its own at a rate that is usual for limiters and displays; one whose timer wavers more, and not by chance alone, or",
    "that is set to an odd rate, is not told. Frames made up by a random generator, each for itself, at just such a rate",
    "are taken for held: say that nothing held them (`--no-limiter`). An odd pass is named only",
    "where luck would name one in under one study of a hundred, so one of a few noise widths seldom is."
  )
), "docs/checks.md")
