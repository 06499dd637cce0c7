test_that("direction, unit and scale come from the definition, else from the unit, else are asked for", {
  resolve <- honestmargin:::resolve_metrics
  known <- honestmargin:::known_metrics()
  r <- resolve(
    c("fps_avg", "draw", "heat", "share", "wobble"), c(NA, "ms", "degC", "%", NA), rep(NA_character_, 5), known
  )
  expect_identical(r$better, c("higher", "lower", NA, NA, NA))
  expect_identical(r$scale, c("percent", "percent", "absolute", "absolute", "percent"))
  expect_identical(r$said$metric, "draw")
  expect_identical(unique(r$said$from), "unit")
  expect_identical(r$unknown, c("heat", "share", "wobble"))
  said <- resolve("wobble", NA_character_, "lower", known)
  expect_identical(said$better, "lower")
  own <- honestmargin:::known_metrics(list(new_metric("wobble", unit = "mm", better = "lower")))
  own <- resolve("wobble", NA_character_, NA_character_, own)
  expect_identical(c(own$better, own$unit), c("lower", "mm"))
})

test_that("a metric of 0 or below is told as a difference, and that is said", {
  x <- data.frame(
    arm = rep(c("a", "b"), each = 4), value = c(-1, 0, 1, 2, 3, 4, 5, 6), metric = "balance", better = "higher"
  )
  v <- weigh(x, baseline = "a")
  expect_identical(v$scale, "absolute")
  expect_equal(v$change, 4)
  expect_match(findings(v)$message, "told as differences", all = FALSE)
  rate <- data.frame(arm = c("a", "a", "b", "b"), value = c(60, 0, 60, 61), metric = "fps_avg")
  expect_message_of(weigh(rate, baseline = "a"), "honestmargin_error_input", "'fps_avg' is 0 in pass 2")
})

test_that("the simulator does what it is told", {
  x <- simulate_frames(
    60,
    mean_ms = 10, spread = 0.05, memory = 0.7, busy_share = 0, stutters_per_min = 0, loading_seconds = 0,
    seed = 1
  )
  expect_equal(mean(x), 10, tolerance = 0.02)
  expect_equal(cor(x[-1], x[-length(x)]), 0.7, tolerance = 0.1)
  expect_equal(sum(x), 60000, tolerance = 0.001)
  expect_identical(simulate_frames(5, 10, seed = 4), simulate_frames(5, 10, seed = 4))
  expect_false(identical(simulate_frames(5, 10, seed = 4), simulate_frames(5, 10, seed = 5)))
  many <- simulate_frames(60, mean_ms = 10, stutters_per_min = 30, seed = 2)
  expect_equal(frame_summary(many)[["stutters_per_min"]], 30, tolerance = 0.5)
  expect_gte(quantile(simulate_frames(20, 5, limit_ms = 8, loading_seconds = 0, seed = 3), 0.01), 7.9)
})

test_that("tails that rest on few frames are told", {
  x <- data.frame(arm = rep(c("a", "b"), each = 3), pass = 1:6, frames = 5000, low1_mean = 50, low01_mean = 40)
  long <- rbind(
    data.frame(x[c("arm", "pass")], metric = "frames", value = x$frames),
    data.frame(x[c("arm", "pass")], metric = "low1_mean", value = 50),
    data.frame(x[c("arm", "pass")], metric = "low01_mean", value = 40)
  )
  folder <- local_plan(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]", "workloads: [{id: main}]"
  )
  write.csv(long, file.path(folder, "readings.csv"), row.names = FALSE)
  found <- subset(findings(read_study(folder)), check == "tail")
  expect_identical(found$metric, "low01_mean")
  expect_match(found$message, "only about 5 frames")
})

test_that("a key of a plan is found with its line, however it is nested", {
  lines <- honestmargin:::yaml_lines(c(
    "a: 1", "b:", "  c: 2", "  d:", "    - e: 3", "      f: 4", "    - e: 5", "g: {h: 6}"
  ))
  expect_identical(
    lines[c("a", "b/c", "b/d/1/f", "b/d/2/e", "g")], c(a = 1L, `b/c` = 3L, `b/d/1/f` = 6L, `b/d/2/e` = 7L, g = 8L)
  )
})

test_that("the shared arms that were never run are reported, not forgotten", {
  plan <- write_lines(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}, {value: c}]", "workloads: [{id: w}]",
    ext = ".yml"
  )
  folder <- withr::local_tempdir()
  file.copy(plan, file.path(folder, "study.yml"))
  writeLines(
    c("pass,workload,arm,block,score", "1,w,a,1,10", "2,w,b,1,11", "3,w,a,2,10.2", "4,w,b,2,11.1"),
    file.path(folder, "passes.csv")
  )
  v <- weigh(read_study(folder))
  expect_identical(v$arm, c("b", "c"))
  expect_identical(v$verdict[2], "no basis")
  expect_match(v$reason[2], "no counted reading of c")
})
