test_that("an arm whose passes vary far more is told, and one odd pass is not taken for that", {
  table <- function(b) {
    data.frame(
      arm = rep(c("a", "b"), 8), block = rep(1:8, each = 2), order = 1:16, workload = "w",
      score = c(rbind(100 + c(0.3, -0.2, 0.1, -0.4, 0.2, 0, -0.1, 0.1), b))
    )
  }
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: s, baseline: a}", "arms: [{value: a}, {value: b}]",
    "metrics: [{id: score, worth: 2, primary: true}]", "workloads: [{id: w}]"
  ), file.path(folder, "study.yml"))
  seen_of <- function(b) {
    write.csv(
      cbind(pass = sprintf("p%02d", 1:16), table(b)), file.path(folder, "passes.csv"),
      row.names = FALSE
    )
    findings(read_study(folder))
  }
  wild <- seen_of(100 + c(6, -5, 4, -6, 5, -4, 3, -3))
  expect_match(wild$message[wild$check == "unequal"], "score: passes of b vary [0-9.]+ times as much")
  one <- seen_of(100 + c(0.3, -0.2, 9, -0.4, 0.2, 0, -0.1, 0.1))
  expect_false("unequal" %in% one$check)
  expect_true("odd_pass" %in% one$check)
  expect_false(any(c("unequal", "odd_pass") %in% seen_of(100 + c(0.2, 0.4, -0.2, 0.1, -0.3, 0, 0.1, 0.2))$check))
})

test_that("passes that ran into each other are seen by their times", {
  times <- function(step) format(as.POSIXct("2026-03-01 10:00:00", tz = "UTC") + step, "%Y-%m-%dT%H:%M:%S")
  frames <- function(arm, i) plain_frames(20, 10, i)
  right <- made_study(frames, started = times(30 * 0:7))
  expect_false("overlap" %in% findings(read_study(right))$check)
  # the clock was set back by a minute before the fourth
  wrong <- made_study(frames, started = times(30 * 0:7 - ifelse(0:7 >= 3, 60, 0)))
  seen <- findings(read_study(wrong))
  expect_match(seen$message[seen$check == "overlap"], "pass p04 begins [0-9]+ s before p03 was over \\(so 1 pass\\)")
})

test_that("how far a pass lies off is its externally studentised residual, however many blocks there are", {
  outlying <- honestmargin:::outlying
  set.seed(6)
  for (blocks in c(1, 4, 9)) {
    arm <- sample(c("a", "b", "c"), 40, TRUE)
    block <- sample(seq_len(blocks), 40, TRUE)
    y <- rnorm(40)
    y[3] <- 9
    fit <- if (blocks > 1) lm(y ~ arm + factor(block)) else lm(y ~ arm)
    seen <- outlying(y, arm, block)
    expect_equal(seen$away, unname(abs(rstudent(fit))))
    expect_equal(seen$p[3], 2 * pt(-abs(rstudent(fit)[[3]]), fit$df.residual - 1))
  }
  # every arm once in every block, and no blocks at all
  whole <- expand.grid(arm = c("a", "b", "c"), block = 1:4)
  y <- rnorm(12)
  expect_equal(outlying(y, whole$arm, whole$block)$away, unname(abs(rstudent(lm(y ~ arm + factor(block), whole)))))
  expect_equal(outlying(y, whole$arm, NA)$away, unname(abs(rstudent(lm(y ~ arm, whole)))))
  # nothing varies, and a pass that is alone in its block has no other passes
  expect_every(is.na(outlying(rep(5, 10), rep(c("a", "b"), 5), rep(1:5, each = 2))$away))
  alone <- outlying(rnorm(11), c(rep(c("a", "b"), 5), "a"), c(rep(1:5, each = 2), 6))
  expect_identical(which(is.na(alone$away)), 11L)
  # a thousand blocks took a minute, and a thousand arms seconds
  expect_length(outlying(rnorm(5000), rep(1:1000, 5), rep(1:5, each = 1000))$away, 5000)
  expect_length(outlying(rnorm(4000), rep(1:4, 1000), rep(1:1000, each = 4))$away, 4000)
})
