test_that("options read once each are ranked without basis, with the noise at which the gap would fall", {
  path <- write_lines(
    "option,fps,graphics load (%)", "start,60.2,97", "fog off,66.1,93", "water low,61.0,96", "shadows low,72.8,88"
  )
  read <- read_readings(path, columns = c(arm = "option"), better = c(`graphics load` = "none"))
  found <- as.data.frame(rank_options(read, baseline = "start", worth = 2))
  expect_identical(found$option[order(found$rank)], c("shadows low", "fog off", "water low"))
  expect_identical(unique(found$verdict), "no basis")
  expect_equal(found$change[found$option == "fog off"], 100 * (66.1 / 60.2 - 1))
  # a normal quantile of the family (Sidak over three) over the gap of two readings
  level <- 1 - (1 - 0.05)^(1 / 3)
  gap <- log(66.1 / 60.2)
  by_hand <- 100 * (exp(gap / (stats::qnorm(1 - level / 2) * sqrt(2))) - 1)
  expect_equal(found$break_even[found$option == "fog off"], by_hand, tolerance = 0.02)
  expect_identical(found$loads[found$option == "fog off"], "graphics load -4.00 points")
})

test_that("options with repeats share a rank where they are not separable, and only there", {
  set.seed(6)
  level <- c(start = 60, fog = 66, water = 60.05, shadows = 66.05)
  rows <- expand.grid(option = names(level), block = 1:6, stringsAsFactors = FALSE)
  rows$order <- sample(nrow(rows))
  rows$fps <- level[rows$option] * exp(rnorm(nrow(rows), sd = 0.005))
  found <- as.data.frame(rank_options(
    read_readings(rows, columns = c(arm = "option")), baseline = "start", worth = 2
  ))
  rank <- stats::setNames(found$rank, found$option)
  expect_identical(rank[["fog"]], rank[["shadows"]])
  expect_gt(rank[["water"]], rank[["fog"]])
  # the ranks of effects by hand: least squares on the same passes, ties at the same level
  fit <- stats::lm(log(fps) ~ factor(option, names(level)), rows)
  gap <- diff(stats::coef(fit)[c(2, 4)])
  spread <- stats::summary.lm(fit)$sigma * sqrt(2 / 6)
  expect_lt(abs(gap) / spread, stats::qt(1 - 0.05 / 2, 20))
})

test_that("a study with a block screen is sent to its own question", {
  folder <- local_plan(c(
    "setting: {name: options}", "screen:", "  way: singly", "  options:",
    "    - {name: fog, from: on, to: off}", "    - {name: water, from: fine, to: coarse}",
    "workloads: [{id: lap}]", "metrics: [{id: score, better: higher, worth: 2, primary: true}]", "blocks: 2"
  ))
  for (block in 1:2) for (arm in c("start", "fog", "water")) add_pass(folder, arm = arm, values = c(score = 60 + block))
  expect_match(run_cli("ask", folder, "options")$stderr, "ask STUDY screen")
})
