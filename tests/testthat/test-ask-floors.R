# The first arm that is good enough, near the best, and worth its cost.
arms_table <- function(means, sd, passes = 5, metric = "score", unit = "points", better = "higher") {
  rows <- expand.grid(pass = seq_len(passes), arm = names(means), stringsAsFactors = FALSE)
  data.frame(
    arm = rows$arm, block = rows$pass, pass = paste(rows$arm, rows$pass), metric = metric, unit = unit, better = better,
    value = means[rows$arm] * exp(rnorm(nrow(rows), sd = sd))
  )
}

test_that("the intervals are those of t.test and predict, at the level of the whole family", {
  set.seed(1)
  table <- arms_table(c(a = 100, b = 110), 0.02)
  found <- weigh_floors(table, c(score = 104), next_pass = TRUE)
  level <- 0.95^(1 / 4)
  y <- log(table$value[table$arm == "b"])
  theirs <- exp(as.numeric(stats::t.test(y, conf.level = level)$conf.int))
  expect_equal(c(found$lower[2], found$upper[2]), theirs)
  of_next <- stats::predict(stats::lm(y ~ 1), data.frame(x = 1), interval = "prediction", level = level)
  expect_equal(unlist(found[2, c("next_lower", "next_upper")], use.names = FALSE), exp(unname(of_next[1, 2:3])))
})

test_that("the first that stays everywhere is chosen, in the order that is preferred, and a failure counts", {
  table <- rbind(
    cbind(arms_table(c(low = 62, mid = 55, high = 48), 0.002, metric = "fps_avg", unit = "fps"), workload = "quay"),
    cbind(arms_table(c(low = 40, mid = 37, high = 33), 0.002, metric = "fps_avg", unit = "fps"), workload = "tower")
  )
  table$outcome <- "ok"
  expect_identical(attr(weigh_floors(table, c(fps_avg = 35), prefer = c("high", "mid", "low")), "choice"), "mid")
  decides <- attr(weigh_floors(table, c(fps_avg = 35), prefer = c("high", "mid", "low")), "decides")
  expect_identical(decides$workload, "tower")
  table[table$arm == "mid", ][1, c("outcome", "value")] <- list("crash", NA)
  found <- weigh_floors(table, c(fps_avg = 35), prefer = c("high", "mid", "low"))
  expect_identical(attr(found, "choice"), "low")
  expect_match(paste(floor_words(found), collapse = " "),
    "mid \\(failed in 1 of [0-9]+ passes of [a-z]+\\): keeps it, but failed")
  # less is better: it must stay below
  hot <- arms_table(c(slow = 70, fast = 90), 0.002, metric = "temperature", unit = "C", better = "lower")
  expect_identical(weigh_floors(hot, c(temperature = 80))$stays, c("yes", "no"))
  one <- weigh_floors(data.frame(arm = c("a", "b"), value = c(50, 60)), c(score = 40))
  expect_identical(one$stays, c("unclear", "unclear"))
  expect_message_of(weigh_floors(hot, c(fps_avg = 3)), "honestmargin_error_input", "names 'fps_avg'")
})

test_that("a wrong word on any arm is rare over all of them, and so is a wrong choice", {
  set.seed(7)
  n <- simulated(200)
  wrong <- replicate(n, {
    # two arms exactly at the floor, where every 'yes' or 'no' is luck
    found <- weigh_floors(arms_table(c(a = 100, b = 100, c = 107), 0.02), c(score = 100))
    any(found$stays[found$arm != "c"] != "unclear")
  })
  expect_lte(mean(wrong), at_most(0.05, n))
  near <- replicate(n, {
    # b is behind by just more than the worth, and noisier arms stand beside it
    found <- weigh_near(arms_table(c(b = 97.95, a = 100, c = 100), 0.01), worth = 2)
    found$near[found$arm == "b"] == "yes"
  })
  expect_lte(mean(near), at_most(0.05, n))
  expect_gt(mean(replicate(25, weigh_near(arms_table(c(b = 100, a = 100), 0.004), worth = 2)$near[1] == "yes")), 0.8)
  # of two arms, one far below the other
  expect_identical(weigh_near(arms_table(c(b = 90, a = 100), 0.005), worth = 2)$near, c("no", "yes"))
})

test_that("per cost is the ratio of each pass, and what nothing beats is found", {
  set.seed(3)
  score <- arms_table(c(eco = 100, mid = 108, max = 109), 0.004)
  watts <- arms_table(c(eco = 50, mid = 60, max = 90), 0.004, metric = "power", unit = "W", better = "lower")
  table <- rbind(score, watts)
  found <- weigh_cost(table, "score", "power", baseline = "eco", confidence = 0.9)
  ratio <- log(score$value / watts$value)
  alone <- weigh_cost(
    table[table$arm != "max", ], "score", "power", baseline = "eco", confidence = 0.9
  )$ratio
  theirs <- stats::t.test(ratio[score$arm == "mid"] - ratio[score$arm == "eco"], conf.level = 0.9)
  expect_equal(alone$change, 100 * (exp(theirs$estimate[[1]]) - 1))
  expect_equal(c(alone$lower, alone$upper), 100 * (exp(as.numeric(theirs$conf.int)) - 1))
  expect_identical(alone$unit, "points/W")
  expect_true(all(found$arms$on))
  worse <- rbind(score, transform(watts, value = ifelse(arm == "max", 40 * 1.001^block, value)))
  beaten <- weigh_cost(worse, "score", "power", baseline = "eco")$arms
  expect_identical(beaten$on, c(FALSE, beaten$on[2], TRUE))
  expect_identical(beaten$by[1], "max")
  # seconds and watts: what both take, so the less the better
  slow <- transform(score, value = 100 / value, unit = "s", better = "lower")
  both <- rbind(slow, transform(watts, value = 60))
  expect_gt(weigh_cost(both, "score", "power", baseline = "eco")$ratio$change[1], 0)
})

test_that("over several workloads a price is chosen by all of them together", {
  rows <- expand.grid(block = 1:4, arm = c("a", "b", "c"), workload = c("one", "two"), stringsAsFactors = FALSE)
  price <- c(a = 100, b = 120, c = 200)
  level <- c(a.one = 100, b.one = 112, c.one = 130, a.two = 50, b.two = 63, c.two = 66)
  jitter <- c(0.99, 1.003, 1.01, 0.998)
  rows$score <- level[paste(rows$arm, rows$workload, sep = ".")] *
    jitter[1 + (rows$block + match(rows$arm, names(price)) * (rows$workload == "one")) %% 4]
  rows$price <- paste(price[rows$arm], "EUR")
  table <- withr::local_tempfile(fileext = ".csv")
  utils::write.csv(rows, table, row.names = FALSE, quote = FALSE)
  x <- read_readings(table,
    better = list(score = "higher"), columns = c(attribute = "price", block = "block"), baseline = "a"
  )
  found <- weigh_cost(x, "score", "price", baseline = "a")
  # the geometric mean of both workloads, less what is paid for it
  on_paper <- 100 * (sqrt(c(112 / 100 * 63 / 50, 130 / 100 * 66 / 50)) * 100 / c(120, 200) - 1)
  expect_equal(found$overall$change, on_paper)
  expect_identical(found$best$arm[found$best$could], c("a", "b"))
  said <- cost_words(found)
  expect_match(said[1], "^Over all workloads, most for its price: a and b could be; c is not: at least")
  expect_match(said[2], "^score per price, b against a: .*one -6.67 %, two [+]5.00 %.*these 2 workloads -1.0 %")
})

test_that("running costs, pay-back and prices are reckoned as on paper", {
  folder <- local_plan(
    "setting: {name: limit, baseline: low}", "arms:", "  - {value: low, attributes: {price: 100 EUR}}",
    "  - {value: lean, attributes: {price: 130 EUR}}", "workloads: [{id: lap}]", "blocks: 4",
    "metrics: [{id: score, worth: 2}, {id: power, unit: W, better: lower}]"
  )
  for (b in 1:4) for (arm in c("low", "lean")) {
    watts <- (if (arm == "low") 100 else 60) + c(-0.1, 0.1, 0.1, -0.1)[b] * (if (arm == "low") 1 else -1)
    add_pass(folder, arm = arm, values = c(score = 1000 + b, power = watts))
  }
  found <- weigh_cost(read_study(folder), "score", "price", power = "power", hours = 5, kwh = 0.4)
  # 40 W less for 5 h a day: 73 kWh, 29.20 a year; 30 more to buy
  expect_equal(found$running$year, -29.2, tolerance = 1e-6)
  expect_equal(found$running$years, 30 / 29.2, tolerance = 1e-6)
  expect_equal(found$arms$per, c(1002.5 / 100, 1002.5 / 130), tolerance = 1e-3)
  out <- run_cli("choose", folder, "--cost", "price", "--metric", "score")
  expect_match(out$stdout, "lean is beaten in both by low", fixed = TRUE)
  plan <- file.path(folder, "study.yml")
  fresh <- withr::local_tempdir()
  writeLines(sub("130 EUR", "130 USD", readLines(plan)), file.path(fresh, "study.yml"))
  for (arm in c("low", "lean")) add_pass(fresh, arm = arm, values = c(score = 1000, power = 50))
  expect_message_of(
    weigh_cost(read_study(fresh), "score", "price"), "honestmargin_error_input", "have their price in EUR, USD"
  )
  expect_identical(run_cli("choose", folder)$status, 2L)
  near <- run_cli("choose", folder, "--near-best", "2", "--metric", "score", "--prefer", "price")
  expect_match(near$stdout, "low is the first")
  expect_match(run_cli("choose", folder, "--floor", "score=990", "--format", "json")$stdout, "\"stays\": \"yes\"")
})
