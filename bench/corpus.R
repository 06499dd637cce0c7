# A labelled corpus of made-up passes, by seed and from ranges; what the checks see in it. Sourced by bench/checks.R.
inside <- asNamespace("honestmargin")
between <- function(low, high) stats::runif(1, low, high)
log_between <- function(low, high) exp(between(log(low), log(high)))

# frame times that wander (autocorrelated on the log scale), with stutters
free_pass <- function(seconds, mean_ms, jitter, memory = between(0, 0.9), stutters = between(0, 6)) {
  n <- ceiling(1.4 * seconds * 1000 / mean_ms) + 50
  wander <- stats::filter(stats::rnorm(n, sd = jitter * sqrt(1 - memory^2)), memory, "recursive")
  x <- mean_ms * exp(as.numeric(wander))
  hit <- stats::runif(n) < stutters / 60000 * mean_ms
  x[hit] <- x[hit] + 10 + stats::rexp(sum(hit), 1 / 30)
  x[cumsum(x) <= seconds * 1000]
}

# each frame takes what its work takes, or waits for the limit: for the next tick of a clock that goes on (`phase`), or
# until so much time has passed since the last one
limited_pass <- function(work, limit_ms, phase, jitter, share = 1) {
  n <- length(work)
  x <- numeric(n)
  at <- 0
  held <- cumsum(work) / sum(work) <= share
  for (k in seq_len(n)) {
    tick <- if (phase) ceiling((at + work[k]) / limit_ms - 1e-9) * limit_ms else at + max(work[k], limit_ms)
    ends <- if (held[k]) tick else at + work[k]
    x[k] <- ends - at
    at <- ends
  }
  # when a frame is seen wavers a little, whether or not the clock keeps its phase
  waver <- stats::rnorm(n, sd = jitter * limit_ms) * held
  x <- x + if (phase) waver - c(0, waver[-n]) else waver
  pmax(x, 0.05)
}

# a limiter on a busy machine: in spells of 40 frames, a share of the time, lateness goes up and down slowly
busy_pass <- function(limit_ms, seconds, share) {
  n <- ceiling(1000 * seconds / limit_ms / 40) * 40
  spells <- rep(stats::rbinom(n / 40, 1, share), each = 40)
  slowly <- abs(as.numeric(stats::filter(stats::rnorm(n, sd = 0.09), 0.9, "recursive")))
  late <- spells * slowly + abs(stats::rnorm(n, sd = 0.005))
  diff(c(0, seq_len(n) + pmin(late, 0.95))) * limit_ms
}

loading_pass <- function(seconds, factor, rest_seconds, mean_ms, jitter) {
  c(free_pass(seconds, mean_ms * factor, max(jitter, 0.05)), free_pass(rest_seconds, mean_ms, jitter))
}

limits_hz <- c(30, 59.94, 60, 75, 90, 120, 144, 165, 240)

# what a scene is like at each moment is the same in all passes of it
scene_pass <- function(seconds, mean_ms, jitter, scene, shift_at = 1, factor = 1) {
  x <- free_pass(seconds, mean_ms, jitter)
  at <- cumsum(x) / sum(x)
  x <- x * exp(scene$depth * sin(2 * pi * (at * scene$slow + scene$from)) +
    scene$depth / 2 * sin(2 * pi * (at * scene$fast + scene$from)))
  ifelse(cumsum(x) / sum(x) > shift_at, factor * x, x)
}
any_scene <- function() list(depth = between(0, 0.3), slow = between(0.3, 2), fast = between(2, 6), from = between(0,
  1))

# a study of four arms and five blocks; some passes may leave the pace of the other passes half way. Which are named: as
# single ones, or as those of two paces
paced_study <- function(factor = 1, jitter = log_between(0.005, 0.2), slow = 7) {
  seconds <- between(20, 60)
  mean_ms <- 1000 / log_between(20, 500)
  scene <- any_scene()
  pace <- lapply(1:20, function(i) {
    level <- mean_ms * exp(stats::rnorm(1, sd = 0.005))
    x <- scene_pass(seconds, level, jitter, scene, 0.5, if (i %in% slow) factor else 1)
    inside$find_pace(x, inside$empty_to(inside$find_loading(x)$seconds, 0))
  })
  pace <- inside$stack_rows(pace)
  passes <- data.frame(workload = "w", context = NA, arm = rep(letters[1:4], 5), pass = sprintf("p%02d", 1:20))
  levels <- do.call(rbind, pace$levels)
  alone <- unlist(inside$shifted(passes, pace, levels)$pass)
  list(alone = alone, halves = unlist(lapply(inside$two_paced(passes, pace, levels, alone)$values, `[[`, "passes")))
}

# how much of a processor others are said to have kept busy, beside a pass of some seconds that only waits; `duty` is
# the share that a neighbour of ours really takes
others_beside <- function(duty, seconds = 3) {
  other <- inside$registered("source", "others")
  hog <- if (duty > 0) {
    # its parent ends at once, so it is no child of ours
    as.integer(system(sprintf(paste(
      "setsid timeout 60 python3 -c 'import time\nwhile 1:\n t=time.perf_counter()\n",
      "while time.perf_counter()-t<%g: pass\n time.sleep(%g)' > /dev/null 2>&1 & echo $!"
    ), 0.1 * duty, 0.1 * (1 - duty)), intern = TRUE))
  }
  on.exit(if (!is.null(hog)) system(paste("pkill -g", hog)))
  Sys.sleep(0.3)
  watch <- other$begin(list())
  Sys.sleep(seconds)
  found <- other$end(watch, list(), seconds)$found
  if (is.null(found)) 0 else found$values[[1]]$share
}

# a whole study without any fault, as a folder that is read and weighed; its warnings
faultless_study <- function() {
  folder <- tempfile("study-")
  dir.create(file.path(folder, "frames"), recursive = TRUE)
  on.exit(unlink(folder, recursive = TRUE))
  arms <- letters[seq_len(sample(2:4, 1))]
  blocks <- sample(4:6, 1)
  # as a plan shuffles: never one order in all blocks
  repeat {
    orders <- lapply(seq_len(blocks), function(b) sample(arms))
    if (length(unique(orders)) > 1) break
  }
  passes <- data.frame(arm = unlist(orders), block = rep(seq_len(blocks), each = length(arms)))
  passes <- data.frame(pass = sprintf("p%03d", seq_len(nrow(passes))), workload = "w", order = seq_len(nrow(passes)),
    passes)
  writeLines(c(
    "setting: {name: s, baseline: a}", paste0("arms: [", paste0("{value: ", arms, "}", collapse = ", "), "]"),
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads: [{id: w}]"
  ), file.path(folder, "study.yml"))
  utils::write.csv(passes, file.path(folder, "passes.csv"), row.names = FALSE)
  mean_ms <- 1000 / log_between(20, 500)
  seconds <- between(20, 40)
  jitter <- log_between(0.005, 0.2)
  noise <- log_between(0.002, 0.01)
  effect <- c(0, stats::runif(length(arms) - 1, -0.05, 0.05))
  block <- stats::rnorm(blocks, sd = noise)
  scene <- any_scene()
  for (i in seq_len(nrow(passes))) {
    level <- effect[match(passes$arm[i], arms)] + block[passes$block[i]] + stats::rnorm(1, sd = noise)
    x <- scene_pass(seconds, mean_ms * exp(level), jitter, scene)
    data.table::fwrite(data.frame(ms = round(x, 4)), file.path(folder, "frames", paste0(passes$pass[i], ".csv")))
  }
  found <- findings(weigh(read_study(folder)))
  found$check[found$severity != "note"]
}
