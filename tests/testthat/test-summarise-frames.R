# The kernel against the same definitions written out in base R.
reference <- function(x) {
  n <- length(x)
  slow <- sort(x, decreasing = TRUE)
  q <- function(p) stats::quantile(x, p, type = 7, names = FALSE)
  slowest <- function(share) mean(slow[seq_len(max(1, ceiling(round(n * share, 6))))])
  by_time <- function(share) slow[which(cumsum(slow) >= share * sum(x) * (1 - 1e-12))[1]]
  around <- vapply(seq_len(n), function(i) stats::median(x[max(1, i - 30):min(n, i + 30)]), 1)
  stutter <- x >= 2 * around & x >= around + 8
  deep <- rle(x > 3 * stats::median(x))
  long <- tapply(x, rep(seq_along(deep$lengths), deep$lengths), sum) >= 100
  at <- cumsum(x)
  seconds <- floor(sum(x) / 1000)
  # frames shown by time t, whole and in part
  shown <- stats::approx(c(0, at), 0:n, xout = 1000 * (0:seconds))$y
  c(
    fps_avg = 1000 * n / sum(x), fps_median = 1000 / stats::median(x), fps_min = min(diff(shown)),
    fps_max = max(diff(shown)),
    ms_p50 = q(.5), ms_p95 = q(.95), ms_p99 = q(.99), ms_p999 = q(.999), low1_quantile = 1000 / q(.99),
    low01_quantile = 1000 / q(.999),
    low1_mean = 1000 / slowest(.01), low01_mean = 1000 / slowest(.001), low1_time = 1000 / by_time(.01),
    low01_time = 1000 / by_time(.001),
    stutters_per_min = sum(stutter) / (sum(x) / 60000), stutter_share = 100 * sum((x - around)[stutter]) / sum(x),
    pacing_ms = stats::median(abs(diff(x))), deep_drops = sum(deep$values & long), frames = n, seconds = sum(x) / 1000,
    below_30 = 100 * sum(x[x > 1000 / 30]) / sum(x), below_60 = 100 * sum(x[x > 1000 / 60]) / sum(x)
  )
}

test_that("all metrics agree with base R", {
  for (seed in 1:4) {
    x <- simulate_frames(c(8, 20, 45, 4)[seed], mean_ms = c(7, 16, 30, 2)[seed], stutters_per_min = 40, seed = seed)
    got <- frame_summary(x)
    expect_equal(got[names(reference(x))], reference(x), tolerance = 1e-9)
  }
})

test_that("levels of very many frames are exact, however they lie", {
  set.seed(3)
  n <- 250001
  shapes <- list(
    lively = exp(rnorm(n, 2, 0.2)), whole = sample(5:12, n, TRUE), alike = rep(8, n), two = rep_len(c(7, 9), n),
    repeated = rep(exp(rnorm(1000, 2, 0.3)), length.out = n), sorted = sort(rexp(n, 0.1) + 0.001),
    wide = 10^runif(n, -6, 7), late = c(rep(8, n - 1e5), exp(rnorm(1e5, 2, 1))), one = c(rep(8, n - 1), 1e9)
  )
  for (shape in names(shapes)) {
    x <- as.numeric(shapes[[shape]])
    got <- frame_summary(x)
    slow <- sort(x, decreasing = TRUE)
    known <- c(
      stats::quantile(x, c(0.5, 0.95, 0.99, 0.999), names = FALSE), 1000 / mean(slow[1:2501]), 1000 / mean(slow[1:251]),
      stats::median(abs(diff(x)))
    )
    found <- got[c("ms_p50", "ms_p95", "ms_p99", "ms_p999", "low1_mean", "low01_mean", "pacing_ms")]
    expect_equal(unname(found), known, tolerance = 1e-12, info = shape)
  }
})

test_that("a pass worked out by hand", {
  x <- c(rep(10, 99), 110)
  got <- frame_summary(x)
  expect_equal(got[["fps_avg"]], 1000 * 100 / 1100)
  expect_equal(got[["low1_mean"]], 1000 / 110)
  expect_equal(got[["low1_time"]], 1000 / 110)
  expect_equal(got[["stutters_per_min"]], 1 / (1.1 / 60))
  expect_equal(got[["stutter_share"]], 100 * 100 / 1100)
  expect_equal(got[["below_30"]], 10)
  expect_true(is.na(got[["fps_min"]]))
})

test_that("deep drops have their place, length and depth", {
  x <- c(rep(8, 500), rep(50, 4), rep(8, 500), 90, rep(8, 100))
  # 90 ms alone is deep enough and not long enough
  expect_equal(deep_drops(x), data.frame(start_s = 4, seconds = 0.2, frames = 4, slowest_ms = 50, depth = 50 / 8))
  expect_identical(nrow(deep_drops(x, drop_seconds = 0.08)), 2L)
  expect_identical(frame_summary(x)[["deep_drops"]], 1)
  expect_identical(nrow(deep_drops(rep(8, 10))), 0L)
})

test_that("floors and the tester's own metrics are told apart by name", {
  p90 <- new_metric("p90", compute = function(x) stats::quantile(x, 0.9, names = FALSE))
  out <- frame_summary(list(one = c(8, 9, 10), two = c(20, 30, 40)), floors = 45, metrics = list(p90))
  expect_identical(out$pass, c("one", "two"))
  expect_equal(out$p90, c(9.8, 38))
  expect_equal(out$below_45, c(0, 100 * 70 / 90))
  bad <- new_metric("two_numbers", compute = range)
  expect_message_of(
    frame_summary(c(1, 2), metrics = list(bad)), "honestmargin_error_input", "did not give one number"
  )
})

test_that("frame times that cannot be are refused with their place", {
  for (bad in list(0, -1, NaN, NA_real_, Inf)) {
    expect_message_of(frame_summary(c(8, 8, bad)), "honestmargin_error_input", "frame 3: frame time")
  }
  expect_message_of(frame_summary(numeric()), "honestmargin_error_input", "at least one value")
  expect_message_of(frame_summary(list(a = 8, b = c(8, 0))), "honestmargin_error_input", "pass b, frame 2")
})

test_that("every metric of the kernel is described, with direction and unit", {
  table <- metric_table(floors = c(30, 60))
  expect_setequal(setdiff(names(frame_summary(c(8, 9, 10))), table$id), character())
  expect_identical(
    table$better[match(c("fps_avg", "ms_p99", "stutters_per_min", "frames"), table$id)],
    c("higher", "lower", "lower", "none")
  )
  expect_identical(table$scale[match(c("low1_mean", "below_60"), table$id)], c("percent", "absolute"))
})
