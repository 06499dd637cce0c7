# Designs in which time could pass for the setting: in at most 5 % of studies without a difference "differs" is said.
false_share <- function(studies, make, seed = 41) {
  set.seed(seed)
  mean(replicate(studies, any(weigh(make(), baseline = "a")$differs %in% "yes")))
}
expect_rarely <- function(make, studies = simulated(160)) expect_lte(false_share(studies, make), at_most(0.05, studies))
passes <- function(arm, sd = 0.01, drift = 0, ...) {
  rows <- data.frame(arm = arm, order = seq_along(arm), ...)
  rows$value <- 100 * exp(rnorm(nrow(rows), sd = sd) + drift * rows$order)
  rows
}

test_that("boots of one arm before those of the other are one stint each, whatever drifts", {
  boots <- function() passes(rep(c("a", "b"), each = 15), 0.003, drift = 0.002, boot = rep(1:10, each = 3))
  v <- weigh(boots(), baseline = "a")
  expect_identical(v$verdict, "no basis")
  expect_match(v$reason, "setting and time are not separable")
  mixed <- function() {
    rows <- passes(rep(sample(rep(c("a", "b"), 5)), each = 3), 0.003, boot = rep(1:10, each = 3))
    rows$value <- rows$value * exp(rep(rnorm(10, sd = 0.01), each = 3))
    rows
  }
  expect_rarely(mixed)
})

test_that("one return is no basis, several are weighed by their stints", {
  once <- passes(rep(c("a", "b", "a"), each = 5))
  v <- weigh(once, baseline = "a")
  expect_identical(v$verdict, "no basis")
  expect_match(v$reason, "one return")
  expect_false(weigh(once, baseline = "a", steady = TRUE)$verdict == "no basis")
  # runs of two, each with a level of its own
  runs <- function() {
    rows <- passes(rep(rep(c("a", "b"), 4), each = 2))
    rows$value <- rows$value * exp(rep(rnorm(8, sd = 0.01), each = 2))
    rows
  }
  expect_identical(weigh(runs(), baseline = "a")$unit_of_replication, "stint")
  expect_rarely(runs)
})

test_that("a small arm that is noisier is not called different too often: Cochran and Cox's critical value", {
  unequal <- function() {
    data.frame(arm = rep(c("a", "b"), c(12, 3)), value = 100 * exp(c(rnorm(12, sd = 0.01), rnorm(3, sd = 0.03))))
  }
  expect_rarely(unequal)
  rows <- unequal()
  v <- weigh(rows, baseline = "a")
  part <- tapply(log(rows$value), rows$arm, var) / c(12, 3)
  crit <- sum(part * qt(0.975, c(11, 2))) / sum(part)
  half <- crit * sqrt(sum(part))
  d <- diff(tapply(log(rows$value), rows$arm, mean))[[1]]
  expect_equal(c(v$lower, v$upper), 100 * expm1(d + c(-1, 1) * half), tolerance = 1e-3)
})

test_that("boots of which one holds both arms are the unit", {
  shared <- function() {
    rows <- data.frame(boot = rep(1:7, each = 4), arm = rep(c("a", "b", "a", "b", "a", "b", "a"), each = 4))
    rows$arm[25:28] <- c("a", "b", "a", "b")
    level <- rnorm(7, sd = 0.02)
    rows$value <- 100 * exp(level[rows$boot] + rnorm(28, sd = 0.003))
    rows
  }
  expect_identical(weigh(shared(), baseline = "a")$unit_of_replication, "boot")
  expect_rarely(shared)
})

test_that("passes that a limiter holds are told so, not taken for copies", {
  v <- weigh(read_study(demo_study()))
  median <- v[v$workload == "tunnel" & v$metric == "fps_median", ]
  expect_identical(unique(median$verdict), "blocked")
  expect_no_match(paste(median$reason, collapse = " "), "copies")
})

test_that("steady scenes at two near levels are not taken for a limiter", {
  folder <- withr::local_tempdir()
  writeLines(c(
    "setting: {name: driver, baseline: a}", "arms: [{value: a}, {value: b}]",
    "workloads: [{id: lap, frames: log.csv}]", "metrics: [{id: fps_avg, worth: 1, primary: true}]"
  ), file.path(folder, "study.yml"))
  rows <- data.frame(pass = sprintf("p%02d", 1:10), workload = "lap", arm = c("a", "b"), block = rep(1:5, each = 2))
  rows$order <- c(1, 2, 4, 3, 5, 6, 8, 7, 9, 10)
  write.csv(rows, file.path(folder, "passes.csv"), row.names = FALSE)
  dir.create(file.path(folder, "frames"))
  set.seed(5)
  for (i in 1:10) {
    level <- 8 * (if (rows$arm[i] == "b") 0.98 else 1) * exp(rnorm(1, sd = 0.0003))
    frames <- format(level * exp(rnorm(3000, sd = 0.002)), digits = 6)
    writeLines(frames, file.path(folder, "frames", paste0(rows$pass[i], ".csv")))
  }
  study <- read_study(folder)
  # each arm alone looks like one at a limit
  expect_identical(nrow(study$ceilings[is.na(study$ceilings$segment), ]), 2L)
  expect_identical(weigh(study)$verdict[weigh(study)$metric == "fps_avg"], "clear gain")
})

test_that("the same order in every block: nothing clear, a tipping point, and what the session drifts by enters", {
  placed <- function(drift = 0, effect = 0, blocks = 6, between = 0.02) {
    rows <- passes(rep(c("a", "b"), blocks), 0.005, drift, block = rep(seq_len(blocks), each = 2))
    rows$value <- rows$value * exp(rnorm(blocks, sd = between)[rows$block] + effect * (rows$arm == "b"))
    rows
  }
  set.seed(1)
  large <- weigh(placed(effect = 0.1), baseline = "a", worth = 2)
  expect_identical(large$verdict, "gain")
  expect_match(large$reason, "tipping point")
  expect_rarely(function() placed(drift = 0.005, between = 0.05))
  expect_rarely(function() placed(drift = 0.01, between = 0.005))
  # without a drift it is hardly ever blocked
  set.seed(2)
  blocked <- mean(replicate(100, weigh(placed(), baseline = "a")$verdict == "blocked"))
  expect_lte(blocked, at_most(0.05, 100))
})

test_that("passes without a block beside a fixed order do not upset it", {
  rows <- passes(rep(c("a", "b"), 5), block = c(rep(1:3, each = 2), rep(NA, 4)))
  expect_true(is.finite(weigh(rows, baseline = "a")$lower))
})

test_that("passes go with the anchor that ran beside them, whatever crashed", {
  take <- honestmargin:::take_anchor_out
  visits <- function() {
    arm <- rep(c("a", "b"), each = 8)
    level <- 0.01 * 1:16
    two <- data.frame(arm, order = 2 * 1:16, y = level + rnorm(16, sd = 0.005))
    anchor <- data.frame(workload = "still", arm, order = 2 * 1:16 - 1, value = exp(level + rnorm(16, sd = 0.005)))
    found <- take(two[runif(16) > 0.15, ], anchor[runif(16) > 0.15, ], "b", "a", "percent")
    if (is.null(found)) NA else t.test(y ~ arm, data = found$rows)$p.value < 0.05
  }
  set.seed(12)
  # a side of its own for each arm showed in 7 % of many studies, not in few
  studies <- simulated(3200)
  expect_lte(mean(replicate(studies, visits()), na.rm = TRUE), at_most(0.05, studies))
})

test_that("an arm that was never touched is not known to be free of it", {
  rows <- data.frame(arm = rep(c("a", "b"), 5), block = rep(1:5, each = 2), metric = "below_60", order = 1:10)
  rows$order <- c(1, 2, 4, 3, 5, 6, 8, 7, 9, 10)
  rows$value <- c(0, 6.1, 0, 5.9, 0, 6.05, 0, 6.2, 0, 5.95)
  v <- weigh(rows, baseline = "a", worth = c(below_60 = 1))
  # up to 45 % of the baseline's passes may be as bad as those of the arm: Clopper and Pearson
  half <- mean(rows$value[rows$value > 0]) * binom.test(0, 5)$conf.int[2]
  one_sided <- mean(rows$value[rows$value > 0]) * (1 - 0.05^(1 / 5))
  expect_gte((v$upper - v$lower) / 2, one_sided * 0.999)
  expect_lte((v$upper - v$lower) / 2, half * 1.001)
  rows$value <- 0
  none <- weigh(rows, baseline = "a", worth = c(below_60 = 1))
  expect_identical(none$verdict, "no basis")
  expect_match(none$reason, "up to 45 % of passes may still have some")
  expect_no_match(none$reason, "rounded|copies")
})

test_that("what nobody asked about moves, and is no gain or loss; luck is told beside it", {
  v <- weigh(read_study(demo_study()))
  beside <- v[v$role == "exploratory", ]
  expect_false(any(grepl("gain|loss", beside$verdict)))
  moved <- beside$differs %in% "yes" & beside$verdict != "blocked"
  expect_identical(beside$verdict == "moved", moved)
  said <- gsub("\\s+", " ", paste(capture.output(print(v, long = TRUE)), collapse = " "))
  known <- sum(!is.na(beside$differs))
  luck <- paste0(sum(moved), " of ", known, " exploratory comparisons moved; expect about ", round(0.05 * known))
  expect_match(said, luck)
})

test_that("negligible is told with what it may have missed, and an order that is not known with what would undo it", {
  alike <- data.frame(arm = rep(c("a", "b"), 5), block = rep(1:5, each = 2), value = 100 + c(0.1, 0, -0.1, 0.05, 0.02))
  v <- weigh(alike, baseline = "a", worth = 2)
  expect_identical(v$verdict, "negligible")
  expect_match(v$reason, "a loss in fewer than 45 % of passes could be missed")
  apart <- transform(alike, value = value + 5 * (arm == "b"))
  v <- weigh(apart, baseline = "a", worth = 2)
  expect_match(v$reason, paste0("an order effect of ", format(signif(v$lower, 2)), " % would bring the interval to 0"))
  expect_match(sentences(v), "run order unknown")
  expect_no_match(sentences(weigh(transform(apart, order = 1:10), baseline = "a", worth = 2)), "unknown")
})

test_that("odd tables give an answer or an error that names what is wrong, whatever is asked, and never NaN", {
  set.seed(13)
  full <- function(arms, blocks, value = NULL) {
    rows <- expand.grid(arm = arms, block = seq_len(blocks), stringsAsFactors = FALSE)
    rows$order <- seq_len(nrow(rows))
    rows$value <- if (is.null(value)) 100 * exp(rnorm(nrow(rows), sd = 0.01)) else value
    rows
  }
  three <- c("a", "b", "c")
  odd <- list(
    equal = full(three, 5, 50), many = full(paste0("a", 1:40), 3), two = full(three, 2),
    one_50 = data.frame(arm = c("a", rep("b", 50)), value = rnorm(51, 100)),
    missing = transform(full(three, 5), block = ifelse(block == 2, NA, block)),
    holes = full(three, 5)[-c(1, 5, 9, 13), ],
    lone = rbind(transform(full(c("a", "b"), 4), context = "x"), transform(full("a", 4), context = "y")),
    constant = transform(full(three, 5), value = ifelse(arm == "b", 100, value)), alone = full("a", 5),
    infinite = transform(full(c("a", "b"), 5), value = replace(value, 3, Inf)), zero = full(three, 5, 0),
    both_ways = transform(full(c("a", "b"), 8), better = rep(c("higher", "lower"), each = 8))
  )
  refused <- c("alone", "infinite", "zero", "both_ways")
  ways <- list(
    function(x) weigh(x, baseline = x$arm[1], worth = 2), function(x) weigh(x, baseline = x$arm[1], looks = TRUE),
    function(x) weigh(x, baseline = x$arm[1], worth = 150, against = "all"),
    function(x) weigh_overall(x, baseline = x$arm[1], worth = 0, ordered = TRUE),
    function(x) weigh_together(x, c(score = "as_good"), baseline = x$arm[1], worth = 2)
  )
  for (name in names(odd)) {
    for (way in ways) {
      found <- tryCatch(way(odd[[name]]), honestmargin_error_input = identity)
      expect_identical(inherits(found, "error"), name %in% refused, info = name)
      if (inherits(found, "error")) next
      tables <- if (is.data.frame(found)) list(found) else Filter(is.data.frame, unclass(found))
      numbers <- unlist(lapply(tables, function(t) Filter(is.numeric, as.list(t))))
      expect_false(any(is.nan(numbers)), info = name)
    }
  }
})
