marks <- function(...) {
  data <- list(...)
  data.frame(
    time_s = vapply(data, function(m) as.numeric(m[1]), 1), word = vapply(data, `[`, "", 2),
    value = vapply(data, function(m) if (length(m) > 2) m[3] else "", "")
  )
}
places <- function(...) honestmargin:::frame_places(...)

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
  parts <- honestmargin:::toggled_parts(at)
  expect_identical(parts$arm, rep(c("1000 Hz", "125 Hz"), 2))
  expect_identical(parts$block, c(1L, 1L, 2L, 2L))
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
  expect_match(utils::tail(study_history(folder)$reason, 9)[1], "flips to 9 Hz are left out: none of the arms")
  expect_identical(study$passes$pass, paste0("p001.", 1:8))
  expect_identical(study$passes$arm, rep(c("2", "1"), 4))
  expect_identical(study$passes$block, paste0("1.", rep(1:4, each = 2)))
  settled <- study$readings$value[study$readings$metric == "frames"]
  expect_every(settled < 300 & settled > 240)
  expect_false(any(c("unfinished", "plan") %in% findings(study)$check))
  verdict <- subset(weigh(study), role == "primary")
  expect_identical(verdict$n_arm, 4L)
  # about 12.5 ms against 11.5 ms
  expect_lt(abs(verdict$change + 8), 2)
})
