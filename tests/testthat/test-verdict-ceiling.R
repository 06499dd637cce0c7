test_that("arms held at two rates differ by at least what lies between them, and the lock is named", {
  folder <- local_plan(
    "setting: {name: sync, baseline: one}", "arms: [{value: one}, {value: two}]", "workloads: [{id: lap}]",
    "blocks: 4", "metrics: [{id: fps_avg, worth: 2, primary: true}]"
  )
  held <- function(ms, i) ms * (1 + withr::with_seed(i, rnorm(400, sd = 0.001)))
  for (i in 1:4) {
    for (arm in if (i %% 2) c("one", "two") else c("two", "one")) {
      rate <- if (arm == "one") 60 else 30
      add_pass(folder, arm, block = i, frames = held(1000 / rate, i + 10 * (arm == "two")))
    }
  }
  study <- read_study(folder)
  verdict <- subset(weigh(study), role == "primary")
  expect_identical(verdict$verdict, "clear loss")
  expect_match(verdict$reason, "at least: two held at 30.0 fps \\(half of it\\), one at 60.0 fps")
  expect_match(
    subset(findings(study), check == "ceiling")$message,
    "one limited to about 60.0 fps, two limited to about 30.0 fps \\(half of it\\)"
  )
  shown <- run_cli("weigh", folder, "--long")$stdout
  expect_match(
    gsub("\\s+", " ", shown), "the frame limiter at one \\(frames held at 60.0 fps\\); the frame limiter at two"
  )
})
