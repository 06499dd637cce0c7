# An update that cannot be undone: time moves everything by `drift`, the setting
# moves the lap by `effect`; the anchor workload knows only time.
one_way <- function(effect, drift, n = 5, noise = 0.01, beside = TRUE) {
  grid <- expand.grid(workload = c("lap", "still"), k = seq_len(n), arm = c("old", "new"), stringsAsFactors = FALSE)
  grid$order <- seq_len(nrow(grid))
  after <- grid$arm == "new"
  level <- 100 * (1 + drift * after) * (1 + 0.002 * grid$order) * (1 + effect * (after & grid$workload == "lap"))
  grid$value <- level * exp(rnorm(nrow(grid), sd = noise))
  grid$pass <- sprintf("p%02d", grid$order)
  grid <- grid[beside | grid$workload == "lap", ]
  plan <- c(
    "setting: {name: update, baseline: old, one_way: true}", "arms: [{value: old}, {value: new}]",
    "workloads: [{id: lap}, {id: still, anchor: true}]", "metrics: [{id: score, worth: 1, primary: true}]"
  )
  folder <- withr::local_tempdir(.local_envir = parent.frame())
  writeLines(plan, file.path(folder, "study.yml"))
  write.csv(grid[setdiff(names(grid), "k")], file.path(folder, "readings.csv"), row.names = FALSE)
  verdicts <- weigh(read_study(folder))
  verdicts[verdicts$workload == "lap", ]
}

test_that("an anchor separates time from the setting; without it there is no basis", {
  withr::local_seed(3)
  none <- one_way(0.05, 0.03, beside = FALSE)
  expect_identical(none$verdict, "no basis")
  found <- one_way(0.05, 0.03)
  expect_match(found$reason, "anchor still showed over the same time .* taken out")
  # time moved all by 3 % and a drift; the setting by 5 %
  expect_lt(abs(found$change - 5), 2.5)
  expect_true(found$lower > 0)
})

test_that("with an anchor, time alone is called a difference in at most 5 % of studies", {
  withr::local_seed(11)
  studies <- simulated(200)
  said <- replicate(studies, one_way(0, 0.03)$differs)
  # 5 % plus two Monte Carlo errors
  expect_lte(mean(said == "yes"), 0.05 + 2 * sqrt(0.05 * 0.95 / studies))
})

test_that("the paired difference equals Welch's test on the differences of logarithms", {
  withr::local_seed(5)
  x <- data.frame(arm = rep(c("a", "b"), each = 4), y = log(101:108), order = 1:8, value = 101:108)
  anchor <- data.frame(
    workload = "still", arm = x$arm, order = x$order + 0.5, value = c(50, 51, 52, 50, 55, 54, 53, 56)
  )
  taken <- honestmargin:::take_anchor_out(x, anchor, "b", "a", "percent")$rows
  d <- log(x$value) - log(anchor$value)
  expect_equal(
    mean(taken$y[taken$arm == "b"]) - mean(taken$y[taken$arm == "a"]),
    unname(-diff(t.test(d[1:4], d[5:8])$estimate) * -1)
  )
  expect_null(honestmargin:::take_anchor_out(x, anchor[1:4, ], "b", "a", "percent"))
})
