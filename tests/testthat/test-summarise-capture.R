marks <- function(...) {
  data <- list(...)
  data.frame(
    time_s = vapply(data, function(m) as.numeric(m[1]), 1), word = vapply(data, `[`, "", 2),
    value = vapply(data, function(m) if (length(m) > 2) m[3] else "", "")
  )
}
places <- function(start_s, frame_time_ms, ...) {
  honestmargin:::frame_places(data.frame(start_s, frame_time_ms), ...)
}

test_that("each frame knows its segment, and pauses and gaps do not count", {
  start <- seq(0, 9.9, by = 0.1)
  at <- places(start, rep(100, 100), marks(
    c(1, "segment", "harbour"), c(4, "pause"), c(5, "resume"), c(6, "segment", "tunnel"), c(8, "segment")
  ))
  expect_identical(table(at$segment, useNA = "always")[c("harbour", "tunnel")] |> as.integer(), c(50L, 20L))
  expect_every(is.na(at$segment[start < 1 | start >= 8]))
  expect_identical(which(at$why_not == "pause"), which(start >= 4 & start < 5))
  gap <- places(c(0, 0.1, 6.2), c(100, 6100, 100))
  expect_identical(gap$why_not, c("", "gap", ""))
})

test_that("flips cut a pass into passes, with the time to settle left out", {
  start <- seq(0, 11.9, by = 0.1)
  at <- places(start, rep(100, 120), marks(
    c(0, "arm", "1000 Hz"), c(3, "arm", "125 Hz"), c(6, "arm", "1000 Hz"), c(9, "arm", "125 Hz")
  ), settle_s = 1)
  expect_identical(sum(at$why_not == "settling"), 40L)
  plan <- list(arms = list(list(value = "125"), list(value = "1000")), setting = list(unit = "Hz"))
  parts <- honestmargin:::flips_of(at, plan)
  expect_identical(parts$arm, rep(c("1000", "125"), 2))
  expect_identical(parts$round, c(1L, 1L, 2L, 2L))
})

test_that("a level that sinks loop by loop is told as it was put in", {
  loops <- rep(1:5, each = 200)
  x <- 10 * 1.02^(loops - 1)
  held <- honestmargin:::held_level(x, loops)
  expect_equal(held[["slope_per_loop"]], 100 * (1 / 1.02 - 1))
  steady <- honestmargin:::held_level(rep(10, 400))
  expect_equal(steady[["level_held"]], 100)
  expect_true(is.na(steady[["slope_per_loop"]]))
  expect_equal(honestmargin:::held_level(rep(c(10, 20), c(200, 100)))[["level_held"]], 50)
})

test_that("a toggled session becomes passes of one boot in the order flipped, and is weighed", {
  writes <- paste(
    "exec 3> \"$HONESTMARGIN_BEACON_FILE\"; echo beacon 1 >&3;",
    "for k in 1 2 3 4; do for a in 2 1; do echo arm $a Hz >&3;",
    "for i in $(seq 1 300); do echo frame 1$a.$((RANDOM % 9 + k)) >&3; done; done; done;",
    "echo arm 9 Hz >&3; echo frame 10 >&3"
  )
  folder <- local_plan(
    "setting: {name: rate, unit: Hz, baseline: 1}", "arms: [{value: 1}, {value: 2}]", "blocks: 1",
    "metrics: [{id: fps_avg, worth: 2, primary: true}]", "workloads:", "  - id: session", "    beacon: true",
    "    toggle: {settle: 0.5}", paste0("    command: bash -c '", writes, "'")
  )
  expect_identical(nrow(plan_study(file.path(folder, "study.yml"))$schedule), 1L)
  expect_identical(run_study(folder)$state, "done")
  study <- read_study(folder)
  expect_match(findings(study)$message, "flips to 9 Hz are left out: none of the arms", all = FALSE)
  expect_identical(study$passes$pass, rep("p001", 8))
  expect_identical(study$passes$part, 1:8)
  expect_identical(study$passes$arm, rep(c("2", "1"), 4))
  expect_identical(study$passes$block, paste0("1.", rep(1:4, each = 2)))
  settled <- study$readings$value[study$readings$metric == "frames"]
  expect_every(settled < 300 & settled > 240)
  expect_false(any(c("unfinished", "few_blocks") %in% findings(study)$check))
  verdict <- subset(weigh(study), role == "primary")
  expect_identical(verdict$n_arm, 4L)
  # about 12.5 ms against 11.5 ms
  expect_lt(abs(verdict$change + 8), 2)
})

test_that("a frame that reaches into a pause, or over a flip, is the loading in between and does not count", {
  # 20 ms a frame, a pause of 2 s that shows as one long frame, its marks set within it
  frames <- c(rep(20, 100), 2000, rep(20, 100))
  start <- cumsum(c(0, frames))[seq_along(frames)] / 1000
  at <- places(start, frames, marks(c(2.5, "pause"), c(3.5, "resume")))
  expect_identical(which(!at$counts), 101L)
  expect_equal(frame_summary(frames[at$counts])[["fps_avg"]], 50)
  late <- places(start, frames, marks(c(1.99, "pause"), c(4.01, "resume")))
  expect_identical(which(!late$counts), 100:102)
  # a reload of 320 ms as the setting is flipped is neither the old arm's nor the new one's
  flipped <- c(rep(16, 50), 320, rep(19, 50))
  begins <- cumsum(c(0, flipped))[seq_along(flipped)] / 1000
  at <- places(begins, flipped, marks(c(0, "arm", "a"), c(0.9, "arm", "b")))
  expect_identical(which(!at$counts), 51L)
  expect_equal(frame_summary(flipped[at$counts & at$arm == "a"])[["fps_avg"]], 1000 / 16)
  crossed <- places(start, frames, marks(c(0, "segment", "x"), c(1.01, "segment", "y")))
  expect_identical(which(is.na(crossed$segment)), 51L)
})
