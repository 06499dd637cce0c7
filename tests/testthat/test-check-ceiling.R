pile <- honestmargin:::pile_of_frames

test_that("a limiter piles frames up, a free scene does not", {
  held <- pile(simulate_frames(30, mean_ms = 5, limit_ms = 1000 / 120, seed = 1))
  expect_identical(held[["held"]], 1)
  expect_equal(held[["level_ms"]], 1000 / 120, tolerance = 0.005)
  expect_identical(pile(simulate_frames(30, mean_ms = 8, spread = 0.15, seed = 2))[["held"]], 0)
  # half of the refresh: every frame waits for the second tick
  expect_gt(pile(rep(c(33.3, 33.4, 33.3, 33.2), 500))[["held"]], 0)
  # a pile with many faster frames is no limit
  set.seed(3)
  mixed <- c(rep(16.6, 600), runif(400, 5, 12))
  expect_identical(pile(sample(mixed))[["held"]], 0)
  # the same frames one stretch after the other: held for three quarters of the time, then let go
  expect_identical(pile(mixed)[["held"]], 2)
})

test_that("a limiter on a busy machine, where frames come late together, is one all the same", {
  # 30 Hz; in three tenths of the time lateness goes up and down slowly, by up to a period
  busy_pass <- function(frames) {
    spells <- rep(stats::rbinom(40, 1, 0.3), each = frames / 40)
    slowly <- stats::filter(stats::rnorm(frames, sd = 0.09), 0.9, "recursive")
    late <- spells * abs(slowly) + abs(stats::rnorm(frames, 0, 0.005))
    diff(c(0, seq_len(frames) + pmin(late, 0.95))) * 1000 / 30
  }
  set.seed(11)
  kept <- vapply(1:60, function(i) pile(busy_pass(1200))[["held"]] == 2, NA)
  expect_gt(mean(kept), 0.85)
  period <- pile(busy_pass(1200))[["level_ms"]]
  expect_equal(period, 1000 / 30, tolerance = 0.002)
  free <- vapply(1:200, function(i) pile(8 * exp(stats::rnorm(1200, sd = 0.03)))[["held"]] == 2, NA)
  expect_lt(mean(free), 0.02)
})

test_that("passes of an arm must agree on the limit", {
  piles <- data.frame(
    workload = "w", segment = NA, context = NA, arm = rep(c("a", "b", "c"), each = 4), pass = 1:12,
    level_ms = c(8.33, 8.33, 8.335, 8.33, 8.1, 8.3, 8.5, 8.0, 8.33, 8.33, 9, 9), share = 0.8, faster = 0.01,
    held = c(rep(1, 8), 1, 1, 0, 0)
  )
  found <- honestmargin:::find_ceilings(piles)
  # b piles up at levels that wander with the noise; c is held in no more than half of its passes
  expect_identical(found$arm, "a")
  expect_identical(found$passes_held, 4L)
  expect_equal(1000 / found$limit_ms, 120, tolerance = 0.001)
})

# an arm of five passes of 20 s, frames of `middle` ms; neighbours alike by `memory`, passes apart by `apart`
arm_of <- function(middle, jitter, memory = 0, apart = 0) {
  piles <- lapply(c(-1, 0.5, 0, -0.5, 1), function(off) {
    x <- stats::filter(stats::rnorm(20000 / middle, sd = jitter * sqrt(1 - memory^2)), memory, "recursive")
    as.list(pile(middle * (1 + off * apart) * (1 + as.numeric(x))))
  })
  places <- data.frame(workload = "w", segment = NA, context = NA, arm = "a", pass = 1:5)
  honestmargin:::find_ceilings(cbind(places, do.call(rbind, lapply(piles, as.data.frame))))
}

test_that("a limiter that only delays is known where each frame wavers for itself, at a rate that is usual", {
  set.seed(21)
  for (jitter in c(0.002, 0.02, 0.1)) {
    held <- arm_of(1000 / 90, jitter)
    expect_identical(held$passes_held, 5L)
    expect_equal(1000 / held$limit_ms, 90, tolerance = 0.005)
  }
  # neighbours alike, passes that differ, a rate that nobody sets: a scene that is free
  expect_null(arm_of(1000 / 90, 0.02, memory = 0.3))
  expect_null(arm_of(1000 / 90, 0.02, apart = 0.004))
  expect_null(arm_of(1000 / 93, 0.02))
  # a scene so even that its passes agree within one in a thousand is no limiter
  expect_null(arm_of(7.3, 0.005, memory = 0.6, apart = 0.0005))
})

readings <- function(level) {
  set.seed(7)
  x <- expand.grid(
    arm = c("a", "b"), block = 1:5, metric = c("fps_avg", "low1_mean", "ms_p99"), stringsAsFactors = FALSE
  )
  x$value <- c(
    fps_avg = 120, low1_mean = 90, ms_p99 = 9
  )[x$metric] * exp(rnorm(30, sd = 0.002)) * ifelse(x$arm == "b", level, 1)
  x$pass <- paste(x$arm, x$block)
  x
}
study_with <- function(x, held) {
  x <- honestmargin:::complete_readings(x)
  structure(
    list(plan = NULL, passes = honestmargin:::passes_of(x), readings = x, findings = NULL, ceilings = data.frame(
      workload = "main", segment = NA, context = NA, arm = held, limit_ms = 1000 / 120, passes_held = 5, passes = 5
    )),
    class = "honestmargin_study"
  )
}

test_that("where both arms are held the touched metrics are blocked, the lows are not", {
  v <- weigh(study_with(readings(1.001), c("a", "b")), baseline = "a", worth = 2)
  expect_identical(v$verdict[v$metric == "fps_avg"], "blocked")
  expect_match(v$reason[v$metric == "fps_avg"], "both arms are limited to 120 fps")
  expect_identical(v$verdict[v$metric == "low1_mean"], "negligible")
  # the 99 % frame time of 9 ms does not sit at the limit of 8.33 ms
  expect_identical(v$verdict[v$metric == "ms_p99"], "negligible")
  free <- weigh(study_with(readings(1.001), c("a", "b")), baseline = "a", worth = 2, no_limiter = TRUE)
  expect_identical(free$verdict[free$metric == "fps_avg"], "negligible")
})

test_that("where one arm is held its change is a bound to one side", {
  gain <- weigh(study_with(readings(1.05), "b"), baseline = "a", worth = 2)
  expect_identical(gain$verdict[gain$metric == "fps_avg"], "clear gain")
  expect_match(gain$reason[gain$metric == "fps_avg"], "^at least: b held at 120 fps")
  none <- weigh(study_with(readings(1), "b"), baseline = "a", worth = 2)
  expect_identical(none$verdict[none$metric == "fps_avg"], "unclear")
  expect_identical(none$more_passes[none$metric == "fps_avg"], Inf)
  # the baseline held: it might be faster still, so a gain over it does not stand
  over <- weigh(study_with(readings(1.05), "a"), baseline = "a", worth = 2)
  expect_identical(over$verdict[over$metric == "fps_avg"], "unclear")
})

test_that("where the setting itself is the limiter, the change is what it is", {
  capped <- function(...) study_with(transform(readings(0.62), value = value), c("a", "b"), ...)
  x <- capped()
  x$ceilings$limit_ms <- c(1000 / 120, 1000 / 74)
  hidden <- weigh(x, baseline = "a", worth = 2)
  shown <- weigh(x, baseline = "a", worth = 2, setting_limits = TRUE)
  expect_false(any(honestmargin:::has_code(shown$codes, "two_ceilings")))
  expect_identical(shown$verdict[shown$metric == "fps_avg"], "clear loss")
  expect_true(honestmargin:::has_code(hidden$codes, "two_ceilings")[hidden$metric == "fps_avg"])
  # the plan says so too, and its finding is a note then
  plan <- c(
    "setting: {name: cap, baseline: off, limits: true}", "arms: [{value: off}, {value: 60}]",
    "workloads: [{id: w}]", "metrics: [{id: fps_avg, worth: 2}]"
  )
  expect_true(honestmargin:::read_plan(write_lines(plan, ext = ".yml"))$setting$limits)
})
